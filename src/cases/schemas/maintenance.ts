import { array, mixed, number, string } from 'yup';
import { readRule } from '@/core/maintenance/rule';
import { wallMsOf } from '@/core/maintenance/wall';
import { isTimeZone } from '@/core/time/zone-time';
import { moment, readMoment, strictObject, title, wholeNumber } from './common';

const ids = (what: string) =>
  array().of(number().integer().required()).default([]).max(500, `Expected at most 500 ${what}.`);

/** What it is for, and what is said of it. */
const plan = {
  title: title('a title'),
  text: string()
    .trim()
    .default('')
    .max(5000, ({ value }) => `Expected at most 5000 characters, got ${String(value).length}.`)
    .meta({ description: 'What the public reads of it besides; Markdown (CommonMark).' }),
  watchIds: ids('watches').test(
    'some',
    'Expected at least one watch, section or tag, got none.',
    (value, context) => {
      const { sectionIds, tagIds } = context.parent as { sectionIds?: unknown[]; tagIds?: unknown[] };
      return [value, sectionIds, tagIds].some((list) => (list ?? []).length > 0);
    },
  ),
  sectionIds: ids('sections').meta({ description: 'All of these sections, later ones too.' }),
  tagIds: ids('tags').meta({ description: 'All that carry one of these tags, later ones too.' }),
  announceDays: wholeNumber('announceDays', 'days', 0, 366)
    .default(7)
    .meta({ description: 'So many days ahead the public is told.' }),
};

/** Nobody plans so far ahead, and a typing error in the year is seen. */
const LONGEST_MS = 366 * 86_400_000;

export const windowSchema = strictObject({
  ...plan,
  from: moment('the beginning'),
  until: moment('the end')
    .test(
      'after',
      'Expected the end to come after the beginning.',
      (value, context) => readMoment(value)! > readMoment((context.parent as { from: unknown }).from)!,
    )
    .test('long', 'Expected maintenance of at most a year.', (value, context) => {
      const from = readMoment((context.parent as { from: unknown }).from);
      return from === null || readMoment(value)! - from <= LONGEST_MS;
    }),
});

function saidOf(read: () => unknown): string | null {
  try {
    read();
    return null;
  } catch (error) {
    return (error as Error).message;
  }
}

export const seriesSchema = strictObject({
  ...plan,
  rule: string()
    .trim()
    .required('Expected how it repeats, got nothing.')
    .test('rule', (value, context) => {
      const said = saidOf(() => readRule(value));
      return said === null || context.createError({ message: said });
    })
    .meta({ description: 'A recurrence rule (RFC 5545, 3.3.10), daily or rarer.' }),
  zone: string()
    .required('Expected a time zone, got nothing.')
    .test(
      'zone',
      ({ value }) => `Expected a time zone such as Europe/Lisbon, got "${String(value).slice(0, 60)}".`,
      (value) => isTimeZone(value),
    )
    .meta({ description: 'By whose wall clock it begins and ends.' }),
  first: string()
    .required('Expected when it begins first, got nothing.')
    .test(
      'wall',
      ({ value }) =>
        `Expected a day and a time such as 2026-12-06T02:00, got "${String(value).slice(0, 40)}".`,
      (value) => !Number.isNaN(wallMsOf(value)),
    )
    .meta({ description: 'What the wall clock shows when it begins first.' }),
  lastsMinutes: wholeNumber('lastsMinutes', 'minutes', 1, 7 * 24 * 60)
    .required('Expected how long it lasts, got nothing.')
    .meta({ description: 'How long it lasts by the wall clock.' }),
});

const anyObject = (description: string) =>
  mixed()
    .nullable()
    .default(null)
    .meta({ description, jsonSchema: { type: ['object', 'null'], additionalProperties: true } });

export const tryWindowSchema = strictObject({
  window: anyObject('One stretch, as it would be planned.'),
  recurring: anyObject('What comes again, as it would be planned.'),
  windowId: number()
    .integer()
    .nullable()
    .default(null)
    .meta({ description: 'The window that would be changed.' }),
  recurringId: number()
    .integer()
    .nullable()
    .default(null)
    .meta({ description: 'The recurring maintenance that would be changed.' }),
});

export const extendSchema = strictObject({
  minutes: wholeNumber('minutes', 'minutes', 1, 7 * 24 * 60).required('Expected a number of minutes.'),
});

export const calendarSchema = strictObject({
  calendar: string()
    .required('Expected an iCalendar file, got nothing.')
    .max(1_000_000, ({ value }) => `Expected at most 1000000 characters, got ${String(value).length}.`)
    .meta({ description: 'iCalendar (RFC 5545).' }),
  watchIds: plan.watchIds,
  sectionIds: plan.sectionIds,
  tagIds: plan.tagIds,
  announceDays: plan.announceDays,
  zone: string()
    .default('UTC')
    .test('zone', 'Expected a time zone such as Europe/Lisbon.', (value) => isTimeZone(value))
    .meta({ description: 'For times of the file that name no zone.' }),
});
