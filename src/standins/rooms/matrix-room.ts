import { jsonOf, PracticeRoom, type RoomCall, type RoomReply } from './practice-room';

export const PRACTICE_MATRIX = {
  token: 'the-boats-sail-at-dawn',
  user: '@lantern:ternferry.test',
  room: '!crew:ternferry.test',
  alias: '#crew:ternferry.test',
};

/** The part of a Matrix server that a room with one account needs (client-server API). */
export class MatrixRoom extends PracticeRoom {
  /** What was taken, by transaction: the same one is not taken twice. */
  private readonly taken = new Map<string, string>();

  override readonly canBeListenedTo = true;

  constructor() {
    super('matrix', 'Harbour office', 'a Matrix room');
  }

  protected override broken(mode: 'busy' | 'refusing' | 'too fast'): RoomReply {
    if (mode === 'busy') return super.broken(mode);
    return mode === 'refusing'
      ? { status: 403, body: { errcode: 'M_FORBIDDEN', error: 'You are not in that room' } }
      : {
          status: 429,
          body: { errcode: 'M_LIMIT_EXCEEDED', error: 'Too many requests', retry_after_ms: 2000 },
        };
  }

  /** What was written since, as a sync answers it; without a beginning, only up to where that is. */
  private since(query: URLSearchParams): object {
    const from = query.get('since');
    const events = this.written
      .filter(({ id }) => from !== null && id > Number(from))
      .map(({ id, by, text, answers }) => ({
        type: 'm.room.message',
        event_id: `$${id}`,
        sender: `@${by}:ternferry.test`,
        content: {
          msgtype: 'm.text',
          body: answers === undefined ? text : `> <${PRACTICE_MATRIX.user}> what is answered\n\n${text}`,
          ...(answers !== undefined && { 'm.relates_to': { 'm.in_reply_to': { event_id: `$${answers}` } } }),
        },
      }));
    const next = String(this.written.at(-1)?.id ?? from ?? 0);
    const join = { [PRACTICE_MATRIX.room]: { timeline: { events } } };
    return { next_batch: next, ...(events.length > 0 && { rooms: { join } }) };
  }

  protected hear(call: RoomCall): RoomReply {
    const refuse = (status: number, errcode: string, error: string): RoomReply => ({
      status,
      body: { errcode, error },
    });
    if (call.headers.authorization !== `Bearer ${PRACTICE_MATRIX.token}`) {
      return refuse(401, 'M_UNKNOWN_TOKEN', 'Unknown access token');
    }
    const [at = '', query] = call.path.replace(/^\/_matrix\/client\/v3/, '').split('?');
    const path = decodeURIComponent(at);
    if (path === '/sync') return { status: 200, body: this.since(new URLSearchParams(query)) };
    if (path === '/account/whoami') return { status: 200, body: { user_id: PRACTICE_MATRIX.user } };
    const { room, alias } = PRACTICE_MATRIX;
    if (path === '/joined_rooms') return { status: 200, body: { joined_rooms: [room] } };
    if (path === `/directory/room/${alias}`) return { status: 200, body: { room_id: room, servers: [] } };
    if (path === `/rooms/${room}/state/m.room.name`) return { status: 200, body: { name: this.title } };
    const transaction = path.startsWith(`/rooms/${room}/send/m.room.message/`)
      ? path.split('/').at(-1)!
      : null;
    if (call.method !== 'PUT' || transaction === null)
      return refuse(404, 'M_NOT_FOUND', 'There is no such thing here');
    const body = jsonOf(call);
    if (typeof body?.body !== 'string') return refuse(400, 'M_BAD_JSON', 'Expected a body');
    const relates = body['m.relates_to'] as { 'm.in_reply_to'?: { event_id?: string } } | undefined;
    const answers = relates?.['m.in_reply_to']?.event_id?.slice(1);
    const id = this.taken.get(transaction) ?? `$${this.keep(body.body, answers)}`;
    this.taken.set(transaction, id);
    return { status: 200, body: { event_id: id } };
  }
}
