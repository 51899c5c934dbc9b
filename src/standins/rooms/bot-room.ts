import { jsonOf, PracticeRoom, type RoomCall, type RoomReply } from './practice-room';

export const PRACTICE_BOT = { token: '17956:the-boats-sail-at-dawn', chat: '4711' };

/** A service for bots: one chat, whose people have written to the bot. */
export class BotRoom extends PracticeRoom {
  override readonly canBeListenedTo = true;

  constructor() {
    super('bot', 'Crew chat', 'a chat bot');
  }

  protected override broken(mode: 'busy' | 'refusing' | 'too fast'): RoomReply {
    if (mode === 'busy') return super.broken(mode);
    const [code, description] =
      mode === 'refusing' ? [403, 'Forbidden: the bot was blocked'] : [429, 'Too Many Requests'];
    const parameters = mode === 'too fast' ? { retry_after: 2 } : {};
    return { status: code, body: { ok: false, error_code: code, description, parameters } };
  }

  protected hear(call: RoomCall): RoomReply {
    const refuse = (code: number, description: string): RoomReply => ({
      status: code,
      body: { ok: false, error_code: code, description },
    });
    const [, token, method] = /^\/bot([^/]+)\/(\w+)/.exec(call.path) ?? [];
    if (token !== PRACTICE_BOT.token) return refuse(401, 'Unauthorized');
    if (method === 'getUpdates') {
      const chat = { id: Number(PRACTICE_BOT.chat), title: this.title, type: 'group' };
      const { offset = 0, limit = 100 } = (jsonOf(call) ?? {}) as { offset?: number; limit?: number };
      const first = { id: 1, by: 'Ines', text: 'hello', answers: undefined };
      const all = [first, ...this.written].map(({ id, by, text, answers }) => ({
        update_id: id,
        message: {
          message_id: id,
          chat,
          from: { first_name: by },
          text,
          ...(answers !== undefined && { reply_to_message: { message_id: Number(answers) } }),
        },
      }));
      const result = offset < 0 ? all.slice(offset) : all.filter(({ update_id: id }) => id >= offset);
      return { status: 200, body: { ok: true, result: result.slice(0, limit) } };
    }
    const body = jsonOf(call);
    if (method !== 'sendMessage' || typeof body?.text !== 'string')
      return refuse(400, 'Bad Request: message text is empty');
    if (String(body.chat_id) !== PRACTICE_BOT.chat) return refuse(400, 'Bad Request: chat not found');
    const answers = (body.reply_parameters as { message_id?: number } | undefined)?.message_id;
    const id = this.keep(asText(body.text), answers === undefined ? undefined : String(answers));
    return { status: 200, body: { ok: true, result: { message_id: Number(id) } } };
  }
}

/** The small part of HTML that bots write, as it is read. */
function asText(html: string): string {
  return html
    .replaceAll(/<[^>]*>/g, '')
    .replaceAll('&lt;', '<')
    .replaceAll('&gt;', '>')
    .replaceAll('&quot;', '"')
    .replaceAll('&amp;', '&');
}
