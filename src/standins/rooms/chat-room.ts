import { jsonOf, PracticeRoom, type RoomCall, type RoomReply } from './practice-room';

/** A chat room with an incoming webhook that takes {"text": …}. */
export class ChatRoom extends PracticeRoom {
  protected override readonly refusal = { status: 403, body: 'this hook was taken down' };

  constructor() {
    super('crew', 'Crew room', 'a chat webhook');
  }

  protected hear(call: RoomCall): RoomReply {
    const body = jsonOf(call);
    if (!body) return { status: 400, body: 'expected JSON' };
    if (typeof body.text !== 'string' || body.text === '')
      return { status: 400, body: 'expected {"text": "…"}' };
    this.keep(body.text);
    return { status: 200, body: 'received' };
  }
}
