import type { ListPage } from '@/store/db/list-page';
import type { Listing } from './route';

type Key = readonly [number, number];

/** Where a page ended, as a text without meaning to others. */
export function cursorOf(key: Key): string {
  return Buffer.from(key.join('.')).toString('base64url');
}

export function readCursor(cursor: string): Key | null {
  const match = /^(\d{1,16})\.(\d{1,16})$/.exec(Buffer.from(cursor, 'base64url').toString('utf8'));
  return match ? [Number(match[1]), Number(match[2])] : null;
}

export interface Listed {
  items: unknown[];
  /** Where the next page begins; null where there is none. */
  next: string | null;
}

/** The page of a list that was read with one row more than is wanted. */
function pageByTime(items: unknown[], { limit }: ListPage, keyOf: (item: never) => Key): Listed {
  if (items.length <= limit) return { items, next: null };
  const shown = items.slice(0, limit);
  return { items: shown, next: cursorOf(keyOf(shown.at(-1) as never)) };
}

/**
 * The page of a short list in its own order. The cursor knows the last one shown by its id, and by its place where it
 * is gone.
 */
function pageByOrder(all: unknown[], { limit, after, ascending }: ListPage): Listed {
  const items = (ascending ? all : all.toReversed()) as { id: number }[];
  const place = after ? items.findIndex((item) => item.id === after[1]) : -1;
  const from = !after ? 0 : place >= 0 ? place + 1 : after[0];
  const shown = items.slice(from, from + limit);
  const to = from + shown.length;
  return { items: shown, next: to < items.length ? cursorOf([to, shown.at(-1)!.id]) : null };
}

export function pageFrom(items: unknown[], page: ListPage, list: Listing): Listed {
  switch (list.by) {
    case 'time':
      return pageByTime(items, page, list.keyOf);
    case 'order':
      return pageByOrder(items, page);
    case 'place': {
      const place = (page.after?.[0] ?? 0) + page.limit;
      return pageByTime(items, page, ({ id }: { id: number }) => [place, id]);
    }
  }
}
