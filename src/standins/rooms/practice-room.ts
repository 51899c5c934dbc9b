/** A message as it arrived somewhere. */
export interface RoomMessage {
  at: string;
  text: string;
  /** By what the room knows it. */
  id?: string;
  /** The message it answers. */
  answers?: string;
}

/** What somebody wrote in a room. */
export interface Written {
  id: number;
  by: string;
  text: string;
  /** The message it answers, by what the room knows it. */
  answers?: string;
}

/** What a room is asked, in the form it was asked in. */
export interface RoomCall {
  method: string;
  /** Behind the room's own address, with its query. */
  path: string;
  headers: Record<string, string | string[] | undefined>;
  body: Buffer;
}

export interface RoomReply {
  status: number;
  /** An object goes as JSON. */
  body: string | object;
  headers?: Record<string, string>;
}

export const ROOM_MODES = ['fine', 'busy', 'refusing', 'too fast'] as const;
export type RoomMode = (typeof ROOM_MODES)[number];

const MOST_KEPT = 500;

/** A place messages arrive at, in a format of its own. It keeps what came, and can be broken. */
export abstract class PracticeRoom {
  readonly messages: RoomMessage[] = [];
  /** What can be made of it. */
  readonly modes: readonly RoomMode[] = ROOM_MODES;
  mode: RoomMode = 'fine';
  /** What people wrote there; only in rooms whose format can be listened to. */
  readonly written: Written[] = [];
  readonly canBeListenedTo: boolean = false;
  /** What it says where it takes nothing for good. */
  protected readonly refusal: RoomReply = { status: 403, body: 'this was taken down' };
  private count = 0;

  constructor(
    readonly id: string,
    readonly title: string,
    /** In words, for who wonders what it speaks. */
    readonly speaks: string,
  ) {}

  /** Breaks it, or mends it. */
  async setMode(mode: RoomMode): Promise<void> {
    this.mode = mode;
  }

  /** What it answers while it is broken; in its own format where it has one for that. */
  protected broken(mode: Exclude<RoomMode, 'fine'>): RoomReply {
    if (mode === 'busy') return { status: 503, body: 'the room is busy' };
    if (mode === 'too fast') return { status: 429, body: 'slow down', headers: { 'retry-after': '2' } };
    return this.refusal;
  }

  protected abstract hear(call: RoomCall): RoomReply;

  take(call: RoomCall): RoomReply {
    return this.mode === 'fine' ? this.hear(call) : this.broken(this.mode);
  }

  /** Keeps a message; answers by what the room knows it. */
  protected keep(text: string, answers?: string): string {
    const id = String((this.count += 1));
    this.messages.push({ at: new Date().toISOString(), text, id, ...(answers !== undefined && { answers }) });
    if (this.messages.length > MOST_KEPT) this.messages.shift();
    return id;
  }

  /** Somebody writes into the room, perhaps in answer to a message there. */
  write(by: string, text: string, answers?: string): void {
    const id = (this.count += 1);
    this.written.push({ id, by, text, ...(answers !== undefined && { answers }) });
    if (this.written.length > MOST_KEPT) this.written.shift();
  }

  protected find(id: string): RoomMessage | undefined {
    return this.messages.find((message) => message.id === id);
  }
}

/** The body as an object; null where it is none. */
export function jsonOf({ body }: RoomCall): Record<string, unknown> | null {
  try {
    const value: unknown = JSON.parse(body.toString('utf8'));
    return typeof value === 'object' && value !== null && !Array.isArray(value)
      ? (value as Record<string, unknown>)
      : null;
  } catch {
    return null;
  }
}
