import type { CauseCode, CauseDetail } from '@/core/causes/causes';
import type { LetterFacts } from '@/core/messages/letter';
import { slowerOf, type Slower } from '@/core/reports/slower';
import { DAY_MS } from '@/core/time/units';
import type { Finding } from '@/core/causes/finding';
import type { Db } from '@/store/db/connection';
import { isHeard } from '@/core/telling/ahead/heard';
import { fetchSetup } from './setup';
import { countHeardWatches } from '@/store/watches/watch-facts';
import { fetchWatchesAlike, idsAmong } from '@/store/watches/watches-alike';
import { fetchWindows } from '@/store/maintenance/windows';

/** So many of each are named. */
const MOST = 15;

/** So many runs of one job are looked at, and so far back. */
const RUNS = 60;
const LOOK_BACK_MS = 90 * DAY_MS;

/** Jobs that took longer in some time than before it, the worst first. */
async function fetchSlower(
  db: Db,
  { from, until }: { from: number; until: number },
): Promise<({ name: string } & Slower)[]> {
  const jobs = await db('watches')
    .where('kind', 'checkin')
    .where('paused', false)
    .whereNull('deleted_at')
    .select('id', 'name');
  const slower: ({ name: string } & Slower)[] = [];
  for (const { id, name } of jobs) {
    const fetchRuns = async (since: number, before: number) =>
      (
        await db('reports')
          .where('watch_id', id)
          .whereNotNull('run_ms')
          .andWhere('at', '>=', since)
          .andWhere('at', '<', before)
          .orderBy('at', 'desc')
          .limit(RUNS)
          .pluck('run_ms')
      ).filter((ms) => ms !== null);
    const now = await fetchRuns(from, until);
    if (now.length === 0) continue;
    const before = await fetchRuns(from - LOOK_BACK_MS, from);
    const found = slowerOf(now, before);
    if (found) slower.push({ name, ...found });
  }
  return slower.sort((a, b) => b.ms / b.beforeMs - a.ms / a.beforeMs).slice(0, MOST);
}

/** What there is to say of some time, as it is now. */
export async function fetchLetterFacts(
  db: Db,
  { from, until }: { from: number; until: number },
): Promise<LetterFacts> {
  const { setup } = await fetchSetup(db);
  const alike = await fetchWatchesAlike(db, setup.routes);
  const outages = () =>
    db('outages')
      .join('watches', 'watches.id', 'outages.watch_id')
      .whereNull('watches.deleted_at')
      .where('watches.paused', false);
  const within = () => outages().where('outages.began', '>=', from).where('outages.began', '<', until);
  const named = await within()
    .orderBy('outages.began', 'desc')
    .limit(MOST)
    .select('watches.name as name', 'outages.began as began', 'outages.ended as ended');
  const counted = await within().count({ n: '*' }).first();
  const open = await outages()
    .whereNull('outages.ended')
    .orderBy('outages.began')
    .limit(MOST)
    .select('watches.name as name', 'outages.began as began');
  const slow = await db('watches')
    .join('watch_status', 'watch_status.watch_id', 'watches.id')
    .whereNull('watches.deleted_at')
    .where('watches.paused', false)
    .where('watch_status.state', 'slow')
    .whereRaw(`json_extract(watch_status.last_finding, '$.verdict') = 'slow'`)
    .whereRaw(`json_extract(watch_status.last_finding, '$.cause') IS NOT NULL`)
    .orderBy('watches.name')
    .limit(MOST)
    .select<{ name: string; last_finding: string }[]>(
      'watches.name as name',
      'watch_status.last_finding as last_finding',
    );
  return {
    from,
    until,
    watches: await countHeardWatches(db),
    outages: named,
    outageCount: Number(counted?.n ?? 0),
    open,
    hands: slow.map(({ name, last_finding: kept }) => {
      const { cause, detail } = JSON.parse(kept) as Finding & { cause: CauseCode; detail?: CauseDetail };
      return { name, cause, detail: detail ?? {} };
    }),
    windows: (await fetchWindows(db, until))
      .filter(({ begins }) => begins > until)
      .slice(0, MOST)
      .map(({ title, begins }) => ({ title, from: begins })),
    slower: await fetchSlower(db, { from, until }),
    unheard: idsAmong(alike, (facts) => !isHeard(facts, setup)).length,
  };
}
