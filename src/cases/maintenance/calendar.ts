import { readCalendar, writeCalendar, type CalendarRead } from '@/core/maintenance/calendar-file';
import { occurrencesOf, ruleInWords } from '@/core/maintenance/recurrence';
import { DAY_MS } from '@/core/time/units';
import type { Db } from '@/store/db/connection';
import type { Coverage } from '@/store/maintenance/covering';
import { fetchSeries, saveNewSeries } from '@/store/maintenance/series';
import { fetchWindows, saveNewWindow } from '@/store/maintenance/windows';
import { refused } from '@/cases/frame/refusal';
import { asIs, asks, changes, type Act } from '@/cases/frame/use-case';
import { validateBody } from '@/cases/frame/validate';
import { calendarSchema } from '@/cases/schemas/maintenance';
import { refuseUnknownCoverage, touched } from './planned';

interface CalendarBody extends Coverage {
  calendar: string;
  announceDays: number;
  zone: string;
}

/** What of a calendar becomes maintenance, and what not. */
export interface CalendarPlan {
  windows: { title: string; begins: number; ends: number }[];
  recurring: { title: string; inWords: string; zone: string; first: string }[];
  past: number;
  refused: { title: string; problem: string }[];
}

async function readSent(db: Db, body: unknown, now: number): Promise<CalendarBody & { read: CalendarRead }> {
  const sent = await validateBody<CalendarBody>(calendarSchema, body);
  await refuseUnknownCoverage(db, sent, null);
  let read: CalendarRead;
  try {
    read = readCalendar(sent.calendar, { zone: sent.zone, now });
  } catch (error) {
    throw refused([{ field: 'calendar', message: (error as Error).message }]);
  }
  // A rule that has run out is over, as a stretch is.
  const span = { from: now, until: now + 10 * 366 * DAY_MS, most: 1 };
  const series = read.series.filter((one) => occurrencesOf(one, span).length > 0);
  return { ...sent, read: { ...read, series, past: read.past + read.series.length - series.length } };
}

const planOf = ({ stretches, series, past, refused: not }: CalendarRead): CalendarPlan => ({
  windows: stretches.map(({ title, begins, ends }) => ({ title, begins, ends })),
  recurring: series.map(({ title, rule, zone, first }) => ({
    title,
    inWords: ruleInWords(rule),
    zone,
    first,
  })),
  past,
  refused: not,
});

/** Reads a calendar, and says what would be planned. */
export const readMaintenanceCalendar = asks(
  'readMaintenanceCalendar',
  'operate',
  async ({ db, now }, { body }: { body: unknown }): Promise<CalendarPlan> =>
    planOf((await readSent(db, body, now)).read),
);

/** Plans what stands in a calendar, for the watches that are named. */
export const importMaintenanceCalendar = changes(
  'importMaintenanceCalendar',
  'operate',
  asIs<{ body: unknown }>,
  async (act: Act, { body }): Promise<CalendarPlan> => {
    const { trx, now } = act;
    const { read, watchIds, sectionIds, tagIds, announceDays } = await readSent(trx, body, now);
    const coverage = { watchIds, sectionIds, tagIds, announceDays };
    for (const stretch of read.stretches) {
      const id = await saveNewWindow(trx, { ...stretch, ...coverage, madeAt: now });
      touched(act, { kind: 'window', id, title: stretch.title });
    }
    for (const { calledOff, ...series } of read.series) {
      const id = await saveNewSeries(trx, { ...series, ...coverage }, now, calledOff);
      touched(act, { kind: 'recurring window', id, title: series.title });
    }
    return planOf(read);
  },
);

/** All that is planned, and what is not over for more than a month, as iCalendar. */
export const exportMaintenanceCalendar = asks(
  'exportMaintenanceCalendar',
  'look',
  async ({ db, now }, _: Record<string, never>): Promise<{ calendar: string }> => ({
    calendar: writeCalendar(await fetchWindows(db, now - 30 * DAY_MS), await fetchSeries(db)),
  }),
);
