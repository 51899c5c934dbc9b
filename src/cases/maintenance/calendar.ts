import type { CalendarRead } from '@/core/maintenance/calendar-read';
import { writeCalendar } from '@/core/maintenance/calendar-write';
import { ruleInWords } from '@/core/maintenance/recurrence';
import { DAY_MS } from '@/core/time/units';
import type { Coverage } from '@/store/maintenance/covering';
import { fetchSeries, saveNewSeries } from '@/store/maintenance/series';
import { fetchWindows, saveNewWindow } from '@/store/maintenance/windows';
import { refused } from '@/cases/frame/refusal';
import { asks, changes, type Act, type Asking } from '@/cases/frame/use-case';
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

async function readSent(
  { world, now }: Pick<Asking, 'world' | 'now'>,
  body: unknown,
): Promise<CalendarBody & { read: CalendarRead }> {
  const sent = await validateBody<CalendarBody>(calendarSchema, body);
  const answer = await world.calendars.maintenance(sent.calendar, { zone: sent.zone, now });
  if ('problem' in answer) throw refused([{ field: 'calendar', message: answer.problem }]);
  return { ...sent, read: answer.read };
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
  async (asking, { body }: { body: unknown }): Promise<CalendarPlan> => {
    const sent = await readSent(asking, body);
    await refuseUnknownCoverage(asking.db, sent, null);
    return planOf(sent.read);
  },
);

/** Plans what stands in a calendar, for the watches that are named. */
export const importMaintenanceCalendar = changes(
  'importMaintenanceCalendar',
  'operate',
  ({ body }: { body: unknown }, asking) => readSent(asking, body),
  async (act: Act, sent): Promise<CalendarPlan> => {
    const { trx, now } = act;
    const { read, watchIds, sectionIds, tagIds, announceDays } = sent;
    await refuseUnknownCoverage(trx, sent, null);
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
