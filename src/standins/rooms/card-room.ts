import { jsonOf, PracticeRoom, type RoomCall, type RoomReply } from './practice-room';

interface Card {
  title?: unknown;
  description?: unknown;
}

function wordsOf(content: unknown, cards: unknown): string {
  const lines = (Array.isArray(cards) ? (cards as Card[]) : []).flatMap(({ title, description }) => [
    title,
    description,
  ]);
  const words = [content, ...lines].filter((one): one is string => typeof one === 'string').join('\n');
  // As a room shows it: what was to be shown as it is has lost its backslash.
  return words.replaceAll(/\\([\\`*_~|[\]<>#()])/g, '$1');
}

/** Takes {"content", "embeds"}, and lets a message be changed that it took. */
export class CardRoom extends PracticeRoom {
  /** What stands above the card of a message that was changed. */
  private readonly above = new Map<string, string>();

  constructor() {
    super('cards', 'Pier room', 'a chat webhook with cards');
  }

  protected override broken(mode: 'busy' | 'refusing' | 'too fast'): RoomReply {
    if (mode === 'too fast') return { status: 429, body: { message: 'slow down', retry_after: 1.5 } };
    return super.broken(mode);
  }

  private show(id: string): RoomReply {
    if (!this.find(id)) return { status: 404, body: { message: 'no such message' } };
    return { status: 200, body: { id, content: this.above.get(id) ?? '' } };
  }

  protected hear(call: RoomCall): RoomReply {
    const { method, path } = call;
    const changed = /^\/hook\/messages\/(\d+)$/.exec(path)?.[1];
    if (method === 'GET' && changed) return this.show(changed);
    const body = jsonOf(call);
    if (!body) return { status: 400, body: { message: 'expected JSON' } };
    if (method === 'PATCH' && changed) {
      const message = this.find(changed);
      if (!message) return { status: 404, body: { message: 'no such message' } };
      this.above.set(changed, String(body.content));
      const card = message.text.split('\n—\n').at(-1)!;
      message.text = [wordsOf(body.content, []), card].join('\n—\n');
      return { status: 200, body: { id: changed } };
    }
    const text = wordsOf(body.content, body.embeds);
    if (method !== 'POST' || !/^\/hook(?:\?|$)/.test(path))
      return { status: 404, body: { message: 'no such hook' } };
    if (text === '') return { status: 400, body: { message: 'expected content or embeds' } };
    return { status: 200, body: { id: this.keep(text) } };
  }
}

/** Takes a message with an adaptive card; what it does not like it says inside an answer of 200. */
export class AdaptiveRoom extends PracticeRoom {
  constructor() {
    super('adaptive', 'Office flow', 'a webhook with adaptive cards');
  }

  protected override broken(mode: 'busy' | 'refusing' | 'too fast'): RoomReply {
    if (mode === 'too fast')
      return { status: 200, body: 'Message delivery failed with error: returned HTTP error 429' };
    return super.broken(mode);
  }

  protected hear(call: RoomCall): RoomReply {
    const [attachment] = (jsonOf(call)?.attachments ?? []) as { content?: { body?: { text?: string }[] } }[];
    const text = (attachment?.content?.body ?? []).map((block) => block.text ?? '').join('\n');
    if (text === '')
      return { status: 200, body: 'Message delivery failed with error: there is no card in it' };
    this.keep(text.replaceAll(/\\([\\`*_[\]()#>|~-])/g, '$1'));
    return { status: 202, body: '1' };
  }
}
