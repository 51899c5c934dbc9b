import type { IncomingMessage } from 'node:http';
import type { Wanted } from './copying/copies';
import type { DrawAsk, Draw } from './drawing';
import type { PageIndex } from './page-index';
import type { Call } from './sending';

export interface WantedParts {
  index: Pick<PageIndex, 'changedAtOf'>;
  draw: Draw;
  /** The address the desk goes by, without a slash at its end; null where none is set. */
  baseUrl: string | null;
}

/** The name a request was sent to; null where it is none. */
export function hostOf(request: IncomingMessage): string | null {
  const host = String(request.headers['x-forwarded-host'] ?? request.headers.host ?? '').toLowerCase();
  return /^[a-z0-9.-]{1,253}(:\d{1,5})?$|^\[[0-9a-f:.]{2,45}\](:\d{1,5})?$/.test(host) ? host : null;
}

/** Where a page begins, as a whole address: what a reader of feeds has to be told. */
export function baseOf({ request, path }: Pick<Call, 'request' | 'path'>, baseUrl: string | null): string {
  const host = hostOf(request);
  const scheme =
    request.headers['x-forwarded-proto'] === 'https' || baseUrl?.startsWith('https:') ? 'https' : 'http';
  // A page with a name of its own is not found under the desk's.
  if (path === '/' || baseUrl === null) return `${scheme}://${host ?? 'localhost'}${path}`;
  return `${baseUrl}${path}`;
}

/** What a call wants drawn: by what a copy of it is known, and how it is drawn anew. */
export function wantedOf(call: Call, { index, draw, baseUrl }: WantedParts): Wanted {
  const { asked, entry, language, root } = call;
  const { page } = entry;
  const of = (key: readonly unknown[], ask: DrawAsk): Wanted => ({
    key: JSON.stringify([page.id, ...key]),
    changedAt: () => index.changedAtOf(entry),
    draw: () => draw(ask),
  });
  switch (asked.what) {
    case 'badge':
      return of([asked, language], { page, badge: { ...asked, language } });
    case 'embed':
      return of([asked, language], { page, embed: { light: asked.light, language } });
    case 'social':
      return of(['social'], { page, social: true });
    case 'file': {
      const base = baseOf(call, baseUrl);
      return of([asked.file, base], { page, file: asked.file, place: { language: page.language, base } });
    }
    case 'sheet': {
      const { address, words, chosen } = asked;
      const place = { root, chosen, filed: false, live: true };
      return of([address, words, language, chosen], {
        page,
        sheet: { address, words, language, place, madeAt: null },
      });
    }
    default:
      throw new Error(`${asked.what} is not drawn.`);
  }
}
