import { causeSentence, type CauseCode, type CauseDetail } from '@/core/causes/causes';
import type { LetterFacts } from '@/core/messages/letter';
import type { Finding } from '@/core/causes/finding';
import type { Db } from '@/store/db/connection';
import { isHeard } from '@/core/telling/ahead/heard';
import { fetchSetup } from './setup';
import { countHeardWatches, fetchWatchFacts } from '@/store/watches/watch-facts';
import { fetchWindows } from '@/store/pages/windows';

/** So many of each are named. */
const MOST = 15;

/** What there is to say of some time, as it is now. */
export async function fetchLetterFacts(
  db: Db,
  { from, until }: { from: number; until: number },
): Promise<LetterFacts> {
  const { setup } = await fetchSetup(db);
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
      return { name, sentence: causeSentence(cause, detail ?? {}) };
    }),
    windows: (await fetchWindows(db, until))
      .filter(({ begins }) => begins > until)
      .slice(0, MOST)
      .map(({ title, begins }) => ({ title, from: begins })),
    unheard: (await fetchWatchFacts(db)).filter((watch) => !isHeard(watch, setup)).length,
  };
}
