import type { Foretold } from '@/core/telling/foretell';
import { MOMENTS, momentAt, type Moment } from '@/core/telling/ahead/moments';
import { formatDuration } from '@/core/time/duration';
import { foretoldAt } from '@/views/messages/foretold';
import type { Db } from '@/store/db/connection';
import { fetchSetup } from '@/store/messages/setup';
import { countHeardWatches, fetchWatchFacts } from '@/store/watches/watch-facts';

/** So many watches stand on one page. */
export const MOST_ROWS = 100;
/** Wider a table is not read. */
const MOST_COLUMNS = 8;

export interface HeardRow {
  id: number;
  name: string;
  /** When each channel would hear, in words; null for not at all. */
  cells: (string | null)[];
  words: string;
  unheard: boolean;
}

export interface HeardTable {
  channels: { id: number; name: string }[];
  /** Channels that have no column of their own. */
  moreChannels: number;
  rows: HeardRow[];
  /** How many watches there are, on all pages. */
  all: number;
  /** The moment it is worked out for, ms since 1970. */
  at: number;
}

/** What an address asks for; what it does not say as it should is not asked. */
export function readHeardQuery(query: URLSearchParams): { moment: Moment; page: number } {
  const page = /^\d{1,4}$/.test(query.get('page') ?? '') ? Number(query.get('page')) : 0;
  return { moment: MOMENTS.find((one) => one === query.get('at')) ?? 'now', page };
}

/** When a channel would hear for the first time. */
function firstOf(foretold: readonly Foretold[], channelId: number): string | null {
  const first = foretold.find((one) => one.channelId === channelId);
  if (!first) return null;
  return first.afterMs === 0 ? 'at once' : formatDuration(first.afterMs);
}

/** Who would hear of each watch if it went down at a moment, worked out by the life of what is said itself. */
export async function fetchHeardTable(
  db: Db,
  { moment, page, now, zone }: { moment: Moment; page: number; now: number; zone: string },
): Promise<HeardTable> {
  const all = await fetchSetup(db);
  const at = momentAt(moment, now, zone);
  const watches = await fetchWatchFacts(db, { limit: MOST_ROWS, offset: page * MOST_ROWS });
  const foretold = watches.map((watch) => foretoldAt(watch, at, all));
  const heard = new Set(foretold.flatMap(({ said }) => said.map(({ channelId }) => channelId)));
  const columns = all.channels.filter(({ id }) => heard.has(id));
  const shown = columns.slice(0, MOST_COLUMNS).map(({ id, name }) => ({ id, name }));
  return {
    channels: shown,
    moreChannels: columns.length - shown.length,
    rows: watches.map(({ id, name }, i) => ({
      id,
      name,
      cells: shown.map((channel) => firstOf(foretold[i]!.said, channel.id)),
      words: foretold[i]!.sentence,
      unheard: foretold[i]!.said.length === 0,
    })),
    all: await countHeardWatches(db),
    at,
  };
}
