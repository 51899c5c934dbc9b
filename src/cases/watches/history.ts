import { DAY_MS } from '@/core/time/units';
import { outageFigures, type Availability, type OutageFigures } from '@/core/history/availability';
import { quantileOf } from '@/core/history/histogram';
import type { Run, RunFilter } from '@/core/reports/runs';
import type { ListPage } from '@/store/db/list-page';
import { fetchEvidence, type KeptEvidence } from '@/store/history/evidence';
import { fetchFindings, type KeptFinding } from '@/store/history/findings';
import { fetchOutage, fetchOutages, saveLeftOut, type Outage } from '@/store/history/outages';
import { fetchReports, type KeptReport } from '@/store/history/reports';
import { fetchHistoryIn } from '@/views/history/history';
import { fetchRuns } from '@/views/history/run-pages';
import { fetchTimesIn } from '@/views/history/times';
import { orNotFound } from '@/cases/frame/find';
import { asIs, asks, changes, type Act } from '@/cases/frame/use-case';
import { leaveOutSchema } from '@/cases/schemas/watch-history';
import { validateBody } from '@/cases/frame/validate';
import { fetchOutageLines, type OutageLine } from '@/views/outages/outage-lines';
import { foundWatch } from './around';

interface OfWatch {
  id: number;
  page: ListPage;
}

export const listFindings = asks(
  'listFindings',
  'look',
  async ({ db }, { id, page }: OfWatch): Promise<KeptFinding[]> =>
    fetchFindings(db, (await foundWatch(db, id)).id, page),
);

export const listEvidence = asks(
  'listEvidence',
  'look',
  async ({ db }, { id, page }: OfWatch): Promise<KeptEvidence[]> =>
    fetchEvidence(db, (await foundWatch(db, id)).id, page),
);

export const listReports = asks(
  'listReports',
  'look',
  async ({ db }, { id, page }: OfWatch): Promise<KeptReport[]> =>
    fetchReports(db, (await foundWatch(db, id)).id, page),
);

export const listRuns = asks(
  'listRuns',
  'look',
  async ({ db }, { id, page, only }: OfWatch & { only?: RunFilter }): Promise<Run[]> =>
    fetchRuns(db, await foundWatch(db, id), page, only),
);

export const listOutagesOfWatch = asks(
  'listOutagesOfWatch',
  'look',
  async ({ db }, { id, page }: OfWatch): Promise<Outage[]> =>
    fetchOutages(db, { watchId: (await foundWatch(db, id)).id }, page),
);

export const listOutages = asks(
  'listOutages',
  'look',
  ({ db }, { open, page }: { open?: boolean; page: ListPage }): Promise<Outage[]> =>
    fetchOutages(db, open === undefined ? {} : { open }, page),
);

/** Outages as the desk shows them, of all watches or of one. */
export const listOutageLines = asks(
  'listOutageLines',
  'look',
  async (
    { db },
    { watchId, page, ...rest }: { watchId?: number; open?: boolean; page: ListPage },
  ): Promise<OutageLine[]> => {
    if (watchId !== undefined) await foundWatch(db, watchId);
    return fetchOutageLines(db, { ...rest, ...(watchId !== undefined && { watchId }) }, page);
  },
);

export const getOutage = asks('getOutage', 'look', async ({ db }, { id }: { id: number }): Promise<Outage> =>
  orNotFound(await fetchOutage(db, id), `outage ${id}`),
);

/** What the time of a watch in [from, until) came to, ms since 1970. Time before it was made does not count. */
export interface Figures {
  from: number;
  until: number;
  availability: Availability;
  outages: OutageFigures;
  /** How many outages are left out of all this for a reason. */
  leftOut: number;
  /** Of looks that were answered, within 2 % of the exact quantile; null where none was. */
  times: {
    count: number;
    minMs: number;
    medianMs: number;
    p95Ms: number;
    p99Ms: number;
    maxMs: number;
  } | null;
}

export const getFigures = asks(
  'getFigures',
  'look',
  async ({ db, now }, span: { id: number; from?: number; until?: number }): Promise<Figures> => {
    const watch = await foundWatch(db, span.id);
    const until = Math.min(span.until ?? now, now);
    const from = Math.min(until, Math.max(span.from ?? now - 90 * DAY_MS, watch.createdAt));
    const range = { from, to: until };
    const history = (await fetchHistoryIn(db, [watch], range, now)).get(watch.id)!;
    const times = await fetchTimesIn(db, watch.id, from, until);
    const at = (q: number) => quantileOf(times, q) ?? 0;
    return {
      from,
      until,
      availability: history.availability(range),
      outages: outageFigures(range, history.counted),
      leftOut: history.leftOut.length,
      times:
        times.count === 0
          ? null
          : {
              count: times.count,
              minMs: times.min,
              medianMs: at(0.5),
              p95Ms: at(0.95),
              p99Ms: at(0.99),
              maxMs: times.max,
            },
    };
  },
);

/** An outage counts in figures, or not: everybody who shows them reads them anew. */
async function setLeftOut(act: Act, id: number, reason: string | null): Promise<Outage> {
  const outage = orNotFound(await fetchOutage(act.trx, id), `outage ${id}`);
  const { name } = await foundWatch(act.trx, outage.watchId);
  await saveLeftOut(act.trx, id, reason, act.now);
  act.about({ kind: 'outage', id, name });
  act.afterwards(() => act.world.hub.emit('plans'));
  return { ...outage, leftOut: reason };
}

/** Leaves an outage out of every figure, for a reason that stands below them. */
export const leaveOutageOut = changes(
  'leaveOutageOut',
  'operate',
  async ({ id, body }: { id: number; body: unknown }) => ({
    id,
    ...(await validateBody<{ reason: string }>(leaveOutSchema, body)),
  }),
  (act, { id, reason }): Promise<Outage> => setLeftOut(act, id, reason),
);

/** Takes that back: the outage counts again. */
export const countOutage = changes(
  'countOutage',
  'operate',
  asIs<{ id: number }>,
  (act, { id }): Promise<Outage> => setLeftOut(act, id, null),
);
