import { occurrencesOf, ruleInWords, type Occurrence } from '@/core/maintenance/recurrence';
import { readRule } from '@/core/maintenance/rule';
import type { Clash } from '@/core/maintenance/clash';
import { DAY_MS } from '@/core/time/units';
import type { Db } from '@/store/db/connection';
import * as store from '@/store/maintenance/series';
import { fetchWindow, fetchWindows, saveWindowHappening } from '@/store/maintenance/windows';
import { tellWindowChange } from '@/cases/followers/window-changes';
import { deletes } from '@/cases/frame/deletes';
import { orNotFound } from '@/cases/frame/find';
import { withoutReadOnly } from '@/cases/frame/read-only';
import { refused } from '@/cases/frame/refusal';
import { asIs, asks, changes, type Act } from '@/cases/frame/use-case';
import { validateBody } from '@/cases/frame/validate';
import { refuseChanged, versionOf, type VersionedChange } from '@/cases/frame/version';
import { seriesSchema, tryWindowSchema } from '@/cases/schemas/maintenance';
import { fetchClashes, refuseUnknownCoverage, touched } from './planned';
import { validWindow } from './windows';

type Series = store.WindowSeries;

const MOST_SERIES = 200;
/** So many of the next times are shown. */
const MOST_SHOWN = 6;

/** A series and when it comes next. */
export interface SeriesAhead extends Series {
  inWords: string;
  next: Occurrence[];
}

function ahead(series: Series, now: number): SeriesAhead {
  const next = occurrencesOf(series, {
    from: now,
    until: now + 3 * 366 * DAY_MS,
    most: MOST_SHOWN + series.calledOff.length,
  });
  return {
    ...series,
    inWords: ruleInWords(series.rule),
    next: next.filter(({ wall }) => !series.calledOff.includes(wall)).slice(0, MOST_SHOWN),
  };
}

async function found(db: Db, id: number): Promise<Series> {
  return orNotFound(await store.fetchOneSeries(db, id), `recurring maintenance ${id}`);
}

export function seriesVersion(series: Omit<store.NewSeries, 'id'>): string {
  const { title, text, watchIds, sectionIds, tagIds, announceDays, rule, zone, first, lastsMinutes } = series;
  return versionOf([
    title,
    text,
    watchIds,
    sectionIds,
    tagIds,
    announceDays,
    rule,
    zone,
    first,
    lastsMinutes,
  ]);
}

const about = (act: Act, { id, title }: Pick<Series, 'id' | 'title'>) =>
  touched(act, { kind: 'recurring window', id, title });

/** What comes again as it was sent; refused where it never comes. */
async function validSeries(
  db: Db,
  body: unknown,
  now: number,
  before: Series | null = null,
): Promise<store.NewSeries> {
  const sent = await validateBody<store.NewSeries>(seriesSchema, body);
  await refuseUnknownCoverage(db, sent, before);
  const series = { ...sent, rule: readRule(sent.rule) };
  const [next] = occurrencesOf(series, { from: now, until: now + 10 * 366 * DAY_MS, most: 1 });
  if (!next) {
    throw refused([
      { field: 'rule', message: 'Expected a rule that comes again; this one never does from now on.' },
    ]);
  }
  return series;
}

export const listRecurringWindows = asks(
  'listRecurringWindows',
  'look',
  async ({ db, now }, _: Record<string, never>): Promise<SeriesAhead[]> =>
    (await store.fetchSeries(db)).map((series) => ahead(series, now)),
);

export const getRecurringWindow = asks(
  'getRecurringWindow',
  'look',
  async ({ db, now }, { id }: { id: number }): Promise<SeriesAhead> => ahead(await found(db, id), now),
);

export const createRecurringWindow = changes(
  'createRecurringWindow',
  'operate',
  asIs<{ body: unknown }>,
  async (act, { body }): Promise<SeriesAhead> => {
    const { trx, now } = act;
    if ((await store.countSeries(trx)) >= MOST_SERIES) {
      throw refused([{ field: 'title', message: `Expected at most ${MOST_SERIES} of them; end one first.` }]);
    }
    const id = await store.saveNewSeries(trx, await validSeries(trx, body, now), now);
    const series = await found(trx, id);
    // Told once, by the first time that is still ahead: not once for each time it comes.
    const first = (await fetchWindows(trx, now)).find(
      ({ seriesId, begins }) => seriesId === id && begins > now,
    );
    if (first) await saveWindowHappening(trx, first, 'planned', now);
    about(act, series);
    return ahead(series, now);
  },
);

export const changeRecurringWindow = changes(
  'changeRecurringWindow',
  'operate',
  asIs<VersionedChange>,
  async (act, { id, body, expected }): Promise<SeriesAhead> => {
    const { trx, now } = act;
    const series = await found(trx, id);
    refuseChanged(expected, seriesVersion(series), `“${series.title}”`);
    const { calledOff: _, madeAt: __, covers: ___, id: ____, ...stands } = series;
    const sent = withoutReadOnly(body, ['inWords', 'next', 'calledOff', 'covers']);
    const valid = await validSeries(trx, { ...stands, ...sent }, now, series);
    await store.saveSeriesChange(trx, { id, ...valid }, now, async (windowId) => {
      const window = await fetchWindow(trx, windowId);
      if (window) await tellWindowChange(trx, window, 'off', now);
    });
    about(act, { id, title: valid.title });
    return ahead(await found(trx, id), now);
  },
);

export const deleteRecurringWindow = deletes('deleteRecurringWindow', 'operate', {
  find: found,
  version: seriesVersion,
  called: ({ title }) => `“${title}”`,
  remove: async (trx, id, now) => {
    const planned = (await fetchWindows(trx, now)).filter(({ seriesId }) => seriesId === id);
    for (const window of planned) await tellWindowChange(trx, window, 'off', now);
    await store.deleteSeries(trx, id, now);
  },
  touched: about,
});

export interface WindowTrial {
  times: { begins: number; ends: number }[];
  /** How it repeats, in words; null for one stretch. */
  inWords: string | null;
  watches: number;
  clashes: Clash[];
}

/** When planned maintenance would come, for how many watches, and what is planned for them then already. */
export const tryWindow = asks(
  'tryWindow',
  'operate',
  async ({ db, now }, { body }: { body: unknown }): Promise<WindowTrial> => {
    const { window, recurring, windowId, recurringId } = await validateBody<{
      window: unknown;
      recurring: unknown;
      windowId: number | null;
      recurringId: number | null;
    }>(tryWindowSchema, body);
    const own = { id: windowId, seriesId: recurringId };
    if (recurring === null) {
      const stood = windowId === null ? null : await fetchWindow(db, windowId);
      const valid = await validWindow(db, window ?? {}, stood);
      const times = [{ begins: valid.begins, ends: valid.ends }];
      return { times, inWords: null, ...(await fetchClashes(db, times, valid, own)) };
    }
    const stood = recurringId === null ? null : await store.fetchOneSeries(db, recurringId);
    const valid = await validSeries(db, recurring, now, stood);
    const span = { from: now, until: now + 3 * 366 * DAY_MS };
    const times = occurrencesOf(valid, { ...span, most: 60 }).map(({ begins, ends }) => ({ begins, ends }));
    const clashes = await fetchClashes(db, times, valid, own);
    return { times: times.slice(0, MOST_SHOWN), inWords: ruleInWords(valid.rule), ...clashes };
  },
);
