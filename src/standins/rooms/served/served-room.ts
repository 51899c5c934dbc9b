import { PracticeRoom, type RoomReply } from '@/standins/rooms/practice-room';

/** A place with a server of its own: messages come in by what it speaks, not through the harbour's door. */
export abstract class ServedRoom extends PracticeRoom {
  /** Whether it is there at all: some need a server that may not be installed. */
  readonly isThere: boolean = true;

  abstract start(port: number): Promise<void>;
  abstract stop(): Promise<void>;
  /** What whoever connects it types, in words. */
  abstract get how(): string;

  protected hear(): RoomReply {
    return { status: 404, body: 'this room has a door of its own' };
  }
}
