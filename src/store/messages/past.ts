import type { CauseCode, CauseDetail } from '@/core/causes/causes';
import type { Past, PastTrouble, QuietSpan } from '@/core/telling/ahead/replay';
import type { Db } from '@/store/db/connection';
import { fetchWatchFacts } from '@/store/watches/watch-facts';

/** So many outages are remembered, the latest: what comes of more of them tells no more. */
const MOST_TROUBLES = 100_000;

/** The outages of watches that are looked after now, and when their watches were in planned time. */
export async function fetchPast(
  db: Db,
  { since, until, zone }: { since: number; until: number; zone: string },
): Promise<Past> {
  const watches = new Map((await fetchWatchFacts(db)).map((watch) => [watch.id, watch]));
  const rows = await db('outages')
    .where('noticed', '>=', since)
    .where('began', '<', until)
    .orderBy('began', 'desc')
    .limit(MOST_TROUBLES)
    .select('id', 'watch_id', 'began', 'noticed', 'ended', 'cause', 'detail', 'follows');
  const troubles = rows.map((row): PastTrouble => {
    const { id, watch_id: watchId, began, noticed, ended, follows } = row;
    const detail = JSON.parse(row.detail) as CauseDetail;
    const down = { kind: 'down' as const, began, noticed, cause: row.cause as CauseCode, detail };
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
