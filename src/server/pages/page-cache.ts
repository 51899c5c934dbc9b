import { createServer, request as httpRequest, type IncomingMessage, type ServerResponse } from 'node:http';
import { duplexPair } from 'node:stream';
import { cookieValue } from '@/accounts/cookie';
import type { Page } from '@/store/pages/pages';
import { setContentPolicy } from '@/server/access/security-headers';

export interface PageCacheOptions {
  /** Waits so many ms. */
  rest: (ms: number) => Promise<void>;
  /** Milliseconds of a clock nobody sets. */
  now: () => number;
  /** Draws a page, however long it takes. */
  pages: (request: IncomingMessage, response: ServerResponse) => Promise<void>;
  pageOf: (slug: string) => Promise<Page | null>;
  /** When something a page shows last changed, by the same clock. */
  changedAt: (page: Page) => number;
}

/** One drawn page, as it is handed to everyone who asks for the same. */
interface Copy {
  page: Page;
  headers: Record<string, string | string[]>;
  body: Buffer;
  /** When drawing began and how long it took, in ms. */
  drawnAt: number;
  took: number;
}

type Answer = Copy | 'not to be kept';

/** What a page says of the time, such as its figures of ninety days, may be this old. */
const MOST_AGE_MS = 10_000;
const MOST_COPIES = 64;
const MOST_BYTES = 16_000_000;
/** While a page changes all the time, drawing one view of it takes at most this part of one core. */
const DRAWING_SHARE = 1 / 4;
const LONGEST_WAIT_MS = 1000;
const DRAWING_LIMIT_MS = 30_000;
const THEME_COOKIE = 'lantern_theme';
const THEMES = ['dark', 'light'];

/**
 * Everything of a request that may make a difference to a public page, and all that is passed on: the look that was
 * chosen, whether the whole page or only its parts are asked for, and whether it may come packed. So there are a dozen
 * copies of a page at most, whatever is sent along.
 */
interface Wanted {
  slug: string;
  theme: string;
  parts: boolean;
  packed: boolean;
}

function wantedOf({ headers }: IncomingMessage, slug: string): Wanted {
  const theme = cookieValue(headers.cookie, THEME_COOKIE) ?? '';
  return {
    slug,
    theme: THEMES.includes(theme) ? theme : '',
    parts: headers.rsc === '1',
    packed: /\bgzip\b/.test(String(headers['accept-encoding'] ?? '')),
  };
}

function headersFor({ theme, parts, packed }: Wanted): Record<string, string> {
  return {
    host: 'localhost',
    ...(theme && { cookie: `${THEME_COOKIE}=${theme}` }),
    ...(parts && { rsc: '1' }),
    'accept-encoding': packed ? 'gzip' : 'identity',
  };
}

const DRAWN = /^text\/(html|x-component)\b/;
/** RFC 9110, 7.6.1: they belong to one connection. The length is that of the copy. */
const OWN_TO_CONNECTION = ['connection', 'keep-alive', 'transfer-encoding', 'date', 'content-length'];

/**
 * Draws each public page once for all who ask for it between two changes. Many come at once when something is
 * down, and the process that draws also takes check-ins.
 */
export class PageCache {
  /** The one used longest ago comes first. */
  private readonly copies = new Map<string, Copy>();
  private readonly drawing = new Map<string, Promise<Answer>>();
  private bytes = 0;
  /** Never listens: connections are handed to it. */
  private readonly inside;

  constructor(private readonly options: PageCacheOptions) {
    this.inside = createServer((request, response) => {
      // A copy carries the policy it was drawn with.
      setContentPolicy(request, response);
      void options.pages(request, response);
    });
  }

  /** Answers with a copy that shows all that has changed; what cannot be kept is drawn for this request alone. */
  async serve(request: IncomingMessage, response: ServerResponse, slug: string): Promise<void> {
    if (request.method !== 'GET' && request.method !== 'HEAD') {
      response.writeHead(405, { allow: 'GET, HEAD' }).end();
      return;
    }
    const came = this.options.now();
    const wanted = wantedOf(request, slug);
    const key = JSON.stringify(wanted);
    let copy = this.copies.get(key);
    // A drawing that others wait for may have begun before a change; the one after it began since this one came.
    while (!copy || !(copy.drawnAt >= came || this.isFresh(copy))) {
      const drawing: Promise<Answer> = this.drawing.get(key) ?? this.begin(key, wanted, copy);
      const answer = await drawing.catch((): Answer => 'not to be kept');
      if (answer === 'not to be kept') return this.drawAlone(request, response, wanted);
      copy = answer;
    }
    return this.send(copy, key, request.method === 'HEAD', response);
  }

  /** Draws for this request alone, with nothing passed on but what a copy would be drawn from. */
  private drawAlone(request: IncomingMessage, response: ServerResponse, wanted: Wanted): Promise<void> {
    request.url = `/p/${wanted.slug}`;
    request.headers = headersFor(wanted);
    setContentPolicy(request, response);
    return this.options.pages(request, response);
  }

  private isFresh({ page, drawnAt }: Copy): boolean {
    return drawnAt > this.options.changedAt(page) && this.options.now() - drawnAt < MOST_AGE_MS;
  }

  private send(copy: Copy, key: string, headOnly: boolean, response: ServerResponse): void {
    if (this.copies.delete(key)) this.copies.set(key, copy);
    response.writeHead(200, { ...copy.headers, 'content-length': copy.body.length });
    response.end(headOnly ? undefined : copy.body);
  }

  private begin(key: string, wanted: Wanted, last?: Copy): Promise<Answer> {
    const drawing = this.draw(wanted, last)
      .then((answer) => {
        this.drop(key);
        if (answer !== 'not to be kept') this.keep(key, answer);
        return answer;
      })
      .finally(() => this.drawing.delete(key));
    this.drawing.set(key, drawing);
    return drawing;
  }

  private async draw(wanted: Wanted, last?: Copy): Promise<Answer> {
    const { now, pageOf } = this.options;
    if (last) {
      const wait = Math.min(LONGEST_WAIT_MS, last.drawnAt + last.took / DRAWING_SHARE - now());
      if (wait > 0) await this.options.rest(wait);
    }
    const drawnAt = now();
    const page = await pageOf(wanted.slug);
    if (!page) return 'not to be kept';
    const { status, headers, body, whole } = await this.fetchInside(wanted);
    const drawn = status === 200 && whole && DRAWN.test(String(headers['content-type'] ?? ''));
    if (!drawn || headers['set-cookie']) return 'not to be kept';
    return { page, headers, body, drawnAt, took: now() - drawnAt };
  }

  /** Asks the pages for what is wanted, over a connection within this process. */
  private fetchInside(wanted: Wanted) {
    const [ours, theirs] = duplexPair();
    this.inside.emit('connection', theirs);
    return new Promise<{ status: number; headers: Copy['headers']; body: Buffer; whole: boolean }>(
      (resolve, reject) => {
        const asking = httpRequest({
          path: `/p/${wanted.slug}`,
          headers: headersFor(wanted),
          setHost: false,
          timeout: DRAWING_LIMIT_MS,
          createConnection: () => ours as never,
        });
        const limit = setTimeout(() => asking.destroy(new Error('drawing takes too long')), DRAWING_LIMIT_MS);
        asking.on('close', () => clearTimeout(limit));
        asking.on('error', reject);
        asking.on('response', (answer) => {
          const chunks: Buffer[] = [];
          answer.on('data', (chunk: Buffer) => chunks.push(chunk));
          answer.on('error', reject);
          answer.on('end', () => {
            const kept = Object.entries(answer.headers).filter(([name]) => !OWN_TO_CONNECTION.includes(name));
            const all = Object.fromEntries(kept) as Copy['headers'];
            const body = Buffer.concat(chunks);
            resolve({ status: answer.statusCode!, headers: all, body, whole: answer.complete });
          });
        });
        asking.end();
      },
    );
  }

  private keep(key: string, copy: Copy): void {
    if (copy.body.length > MOST_BYTES / 4) return;
    this.copies.set(key, copy);
    this.bytes += copy.body.length;
    for (const oldest of this.copies.keys()) {
      if (this.copies.size <= MOST_COPIES && this.bytes <= MOST_BYTES) return;
      this.drop(oldest);
    }
  }

  private drop(key: string): void {
    this.bytes -= this.copies.get(key)?.body.length ?? 0;
    this.copies.delete(key);
  }
}
