import * as calendars from '@/cases/maintenance/calendar';
import * as series from '@/cases/maintenance/series';
import * as windows from '@/cases/maintenance/windows';
import {
  calendarSchema,
  extendSchema,
  seriesSchema,
  tryWindowSchema,
  windowSchema,
} from '@/cases/schemas/maintenance';
import type { MaintenanceWindow } from '@/store/maintenance/windows';
import {
  calendarPlan,
  maintenanceCalendar,
  recurringWindow,
  window,
  windowTrial,
} from '@/api/answers/maintenance';
import { route, type Call, type Route } from '@/api/route';
import { windowShape } from '@/api/shapes';
import * as rest from './resource';

const TAG = 'Maintenance';

const span = ({ begins, ends }: { begins: number; ends: number }) => ({ from: begins, until: ends });

const WINDOW: rest.Resource<MaintenanceWindow> = {
  path: '/windows',
  tag: TAG,
  what: 'maintenance window',
  shape: window,
  versioned: true,
  tell: (_, one) => windowShape(one),
};

const RECURRING: rest.Resource<series.SeriesAhead> = {
  path: '/recurring-windows',
  tag: TAG,
  what: 'recurring maintenance',
  shape: recurringWindow,
  versioned: true,
  tell: (_, one) => ({ ...one, version: series.seriesVersion(one), next: one.next.map(span) }),
};

const moveRoute = (
  does: typeof windows.beginWindow,
  path: string,
  words: { summary: string; description: string },
  body: Pick<Parameters<typeof rest.actRoute>[2], 'body' | 'example' | 'refusals'> = {},
) =>
  rest.actRoute(TAG, `/windows/{id}/${path}`, {
    ...words,
    ...body,
    answer: 'The maintenance window.',
    does,
    shape: window,
    versioned: true,
    refusals: ['window.over', ...(body.refusals ?? [])],
    input: ({ ids, body: sent }) => ({ id: ids.id!, body: sent }),
    tell: (_, one) => windowShape(one),
  });

const calendarOut = (plan: calendars.CalendarPlan) => ({
  ...plan,
  windows: plan.windows.map(({ title, ...one }) => ({ title, ...span(one) })),
});

const EXAMPLE = {
  title: 'New mast at the north pier',
  watchIds: [1],
  from: '2026-12-01T06:00:00Z',
  until: '2026-12-01T08:00:00Z',
};

const EXAMPLE_SERIES = {
  title: 'Weekly restart of the ticket kiosks',
  watchIds: [1],
  rule: 'FREQ=WEEKLY;BYDAY=SU',
  zone: 'Europe/Lisbon',
  first: '2026-12-06T02:00',
  lastsMinutes: 45,
};

const EXAMPLE_CALENDAR = {
  watchIds: [1],
  calendar: [
    'BEGIN:VCALENDAR',
    'VERSION:2.0',
    'PRODID:-//Tern Island Ferries//dry dock//EN',
    'BEGIN:VEVENT',
    'UID:mast@ternferry.test',
    'DTSTAMP:20261101T000000Z',
    'DTSTART:20301201T060000Z',
    'DTEND:20301201T080000Z',
    'SUMMARY:New mast',
    'END:VEVENT',
    'END:VCALENDAR',
    '',
  ].join('\r\n'),
};

/** What reading a calendar has in common with planning from it. */
const OF_A_CALENDAR = {
  body: calendarSchema,
  shape: calendarPlan,
  example: EXAMPLE_CALENDAR,
  input: ({ body }: Call) => ({ body }),
  tell: (_: Call, plan: calendars.CalendarPlan) => calendarOut(plan),
};

export const maintenanceRoutes: Route[] = [
  rest.actRoute(TAG, '/windows/try', {
    summary: 'When planned maintenance would come',
    description: 'Nothing is planned. Either one stretch or what comes again is sent.',
    answer: 'Its first few times, how it repeats in words, and what is planned for the same watches then.',
    does: series.tryWindow,
    body: tryWindowSchema,
    shape: windowTrial,
    example: { recurring: EXAMPLE_SERIES },
    input: ({ body }) => ({ body }),
    tell: (_, trial) => ({ ...trial, times: trial.times.map(span) }),
  }),
  rest.actRoute(TAG, '/windows/calendar/read', {
    summary: 'Read a calendar, and say what would be planned',
    answer: 'What would be planned, and what not.',
    does: calendars.readMaintenanceCalendar,
    ...OF_A_CALENDAR,
  }),
  rest.actRoute(TAG, '/windows/calendar', {
    summary: 'Plan what stands in a calendar',
    answer: 'What was planned, and what not.',
    does: calendars.importMaintenanceCalendar,
    ...OF_A_CALENDAR,
  }),
  route({
    method: 'GET',
    path: '/windows/calendar',
    tag: TAG,
    summary: 'All that is planned, as iCalendar',
    answer: 'A calendar: single stretches in UTC, what comes again by its rule and in its zone.',
    does: calendars.exportMaintenanceCalendar,
    status: 200,
    shape: maintenanceCalendar,
    input: () => ({}),
  }),
  route({
    method: 'GET',
    path: WINDOW.path,
    tag: TAG,
    summary: 'Maintenance windows, past and planned',
    description: 'Times of recurring maintenance stand here for three months ahead.',
    does: windows.listWindows,
    list: {
      by: 'time',
      lasts: true,
      keyOf: (item: { id: number; from: number }) => [item.from, item.id] as const,
    },
    status: 200,
    answer: 'Windows, the one that begins last first. With since, only those that are not over by then.',
    shape: { each: window },
    input: ({ page: wanted }) => ({ page: wanted }),
    tell: (_, all) => all.map(windowShape),
  }),
  rest.createRoute(WINDOW, {
    does: windows.createWindow,
    summary: 'Plan maintenance',
    body: windowSchema,
    example: EXAMPLE,
  }),
  rest.getRoute(WINDOW, { does: windows.getWindow }),
  rest.changeRoute(WINDOW, {
    does: windows.changeWindow,
    body: windowSchema,
    description:
      'Fields that are left out stay as they are. One time of recurring maintenance is then one by itself: changes of the whole pass it by.',
    example: { until: '2026-12-01T09:00:00Z' },
  }),
  rest.deleteRoute(WINDOW, {
    does: windows.deleteWindow,
    summary: 'Call maintenance off',
    description: 'One time of recurring maintenance does not come; the others do.',
  }),
  moveRoute(windows.beginWindow, 'begin', {
    summary: 'Begin maintenance now',
    description: 'Its end stays where it is. What is under way stays as it is.',
  }),
  moveRoute(
    windows.endWindow,
    'end',
    { summary: 'End maintenance now', description: 'Its watches count as usual again.' },
    { refusals: ['window.waiting'] },
  ),
  moveRoute(
    windows.extendWindow,
    'extend',
    { summary: 'Let maintenance last longer', description: 'From its planned end on.' },
    { body: extendSchema, example: { minutes: 30 }, refusals: ['input.invalid'] },
  ),
  rest.listRoute(RECURRING, { does: series.listRecurringWindows, summary: 'Maintenance that comes again' }),
  rest.createRoute(RECURRING, {
    does: series.createRecurringWindow,
    summary: 'Plan maintenance that comes again',
    description: 'By the wall clock of its zone, on both sides of a change of the clocks.',
    body: seriesSchema,
    example: EXAMPLE_SERIES,
  }),
  rest.getRoute(RECURRING, { does: series.getRecurringWindow }),
  rest.changeRoute(RECURRING, {
    does: series.changeRecurringWindow,
    summary: 'Change maintenance that comes again',
    description:
      'Fields that are left out stay as they are. What is under way, and times that were changed by themselves, stay too.',
    body: seriesSchema,
    example: { lastsMinutes: 60 },
  }),
  rest.deleteRoute(RECURRING, {
    does: series.deleteRecurringWindow,
    summary: 'End maintenance that comes again',
    description: 'What has not begun is called off; what is under way ends as planned.',
  }),
];
