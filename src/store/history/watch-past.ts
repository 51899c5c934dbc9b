import type { Finding } from '@/core/causes/finding';
import type { AsideSpan, WatchPast } from '@/core/lifecycle/relive';
import type { Report } from '@/core/lifecycle/status';
import type { Db } from '@/store/db/connection';
import type { FindingRow } from '@/store/db/tables';
import { VERDICTS } from './recorder';
import { fetchStretches } from './stretches';

/** So many looks or reports are gone through, the latest. */
const MOST = 300_000;

type LookRow = Pick<FindingRow, 'at' | 'verdict' | 'us' | 'cause'>;
type HeardRow = Omit<Report, 'is'> & { kind: Report['is'] };

interface PastOf {
  watchId: number;
  type: 'probe' | 'checkin';
  since: number;
  until: number;
}

/** The latest rows of one watch within a time. */
function latest(db: Db, table: 'findings' | 'reports', { watchId, since, until }: PastOf) {
  return db(table)
    .where('watch_id', watchId)
    .andWhere('at', '>=', since)
    .andWhere('at', '<', until)
    .orderBy('at', 'desc')
    .limit(MOST);
}

/** Looks as far as the life cycle goes: no evidence, and no details of causes. */
async function fetchLooks(db: Db, of: PastOf): Promise<Finding[]> {
  const rows = await latest(db, 'findings', of).select<LookRow[]>('at', 'verdict', 'us', 'cause');
  return rows
    .map(({ at, verdict, us, cause }): Finding => {
      const kept = { at, ms: us === null ? 0 : us / 1000 };
      const found = VERDICTS[verdict as 0] ?? 'failed';
      return found === 'fine'
        ? { ...kept, verdict: found }
        : ({ ...kept, verdict: found, cause, detail: {} } as Finding);
    })
    .reverse();
}

async function fetchHeard(db: Db, of: PastOf): Promise<Report[]> {
  const rows = await latest(db, 'reports', of).select<HeardRow[]>('at', 'kind', 'code', 'run', 'took');
  return rows.map(({ kind, ...rest }): Report => ({ ...rest, is: kind })).reverse();
}

const ASIDE: readonly string[] = ['paused', 'maintenance', 'unobserved'] satisfies AsideSpan['kind'][];

/** All that is kept of one watch and has a say in how it stood. */
export async function fetchWatchPast(db: Db, of: PastOf): Promise<WatchPast> {
  const looks = of.type === 'probe' ? await fetchLooks(db, of) : [];
  const reports = of.type === 'checkin' ? await fetchHeard(db, of) : [];
  const from = Math.max(of.since, looks[0]?.at ?? reports[0]?.at ?? of.until);
  const stretches = await fetchStretches(db, [of.watchId], from, of.until);
  const aside = (stretches.get(of.watchId) ?? []).filter(({ kind }) => ASIDE.includes(kind)) as AsideSpan[];
  return { looks, reports, aside, from, until: of.until };
}
