import type { CauseCode, CauseDetail } from '@/core/causes/causes';
import type { SeenThere, SharedFacts } from '@/core/causes/machines';
import type { Past, PastTrouble, QuietSpan } from '@/core/telling/ahead/replay';
import type { Rung } from '@/core/causes/finding';
import type { OutageRow } from '@/store/db/tables';
import type { Db } from '@/store/db/connection';
import { fetchWatchFacts } from '@/store/watches/watch-facts';

/** So many outages are remembered, the latest: what comes of more of them tells no more. */
const MOST_TROUBLES = 100_000;

/** What a watch's trouble shares with others, by what its first failed look saw; null where it may share nothing. */
export type SharesOf = (watchId: number, seen: SeenThere) => SharedFacts | null;

const SEEN = ['address', 'certificate', 'walk'] as const;

type PastRow = Pick<
  OutageRow,
  'id' | 'watch_id' | 'began' | 'noticed' | 'ended' | 'cause' | 'detail' | 'follows'
> &
  Record<(typeof SEEN)[number], string | null>;

function seenIn({ address, certificate, walk }: PastRow): SeenThere {
  return {
    ...(address !== null && { address }),
    ...(certificate !== null && { certificate: JSON.parse(certificate) as { fingerprint: string } }),
    ...(walk !== null && { walk: JSON.parse(walk) as Rung[] }),
  };
}

/** The outages of watches that are looked after now, and when their watches were in planned time. */
export async function fetchPast(
  db: Db,
  { since, until, zone }: { since: number; until: number; zone: string },
  sharesOf: SharesOf,
): Promise<Past> {
  const watches = new Map((await fetchWatchFacts(db)).map((watch) => [watch.id, watch]));
  const rows = await db('outages')
    .where('noticed', '>=', since)
    .where('began', '<', until)
    .orderBy('began', 'desc')
    .limit(MOST_TROUBLES)
    .select('id', 'watch_id', 'began', 'noticed', 'ended', 'cause', 'detail', 'follows')
    // Evidence may hold a page's text; of that nothing is read.
    .select<PastRow[]>(SEEN.map((key) => db.raw(`json_extract(evidence, '$.${key}') as ${key}`)));
  const troubles = rows.map((row): PastTrouble => {
    const { id, watch_id: watchId, began, noticed, ended, follows } = row;
    const detail = JSON.parse(row.detail) as CauseDetail;
    const shares = sharesOf(watchId, seenIn(row));
    const cause = row.cause as CauseCode;
    const down = { kind: 'down' as const, began, noticed, cause, detail, ...(shares && { shares }) };
    return { id, watchId, noticed, ended, follows, down };
  });
  const spans = await db('stretches')
    .where('kind', 'maintenance')
    .where('began', '<', until)
    .where((q) => void q.whereNull('ended').orWhere('ended', '>', since))
    .orderBy('began')
    .select('watch_id', 'began', 'ended');
  const quiet = new Map<number, QuietSpan[]>();
  for (const { watch_id: id, began, ended } of spans) {
    quiet.set(id, [...(quiet.get(id) ?? []), { from: began, to: ended ?? until }]);
  }
  return { watches, troubles, quiet, until, zone };
}
