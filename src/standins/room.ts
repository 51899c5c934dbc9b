/** A message as it arrived in a chat room. */
export interface RoomMessage {
  at: string;
  text: string;
}

const MOST_KEPT = 500;

/** A chat room with an incoming webhook: it keeps what arrives, and can be broken too. */
export class ChatRoom {
  readonly messages: RoomMessage[] = [];
  /** What the room does with a message. */
  mode: 'fine' | 'busy' | 'refusing' = 'fine';

  /** Takes a webhook body; returns the status and the answer. */
  take(body: string): { status: number; said: string } {
    if (this.mode === 'busy') return { status: 503, said: 'the room is busy' };
    if (this.mode === 'refusing') return { status: 403, said: 'this hook was taken down' };
    let text: unknown;
    try {
      text = (JSON.parse(body) as { text?: unknown }).text;
    } catch {
      return { status: 400, said: 'expected JSON' };
    }
    if (typeof text !== 'string' || text === '') return { status: 400, said: 'expected {"text": "…"}' };
    this.messages.push({ at: new Date().toISOString(), text });
    if (this.messages.length > MOST_KEPT) this.messages.shift();
    return { status: 200, said: 'received' };
  }
}
