import { array, boolean, number, string } from 'yup';
import { isDay } from '@/core/schedule/schedule';
import { minuteOfDay, OUTSIDE } from '@/core/telling/hours';
import { TOPIC_NAMES, USUAL_TOPICS } from '@/core/telling/topic';
import { isTimeZone } from '@/core/time/zone-time';
import { strictObject, title, wholeNumber } from './common';

const MOST_LISTED = 500;
const MOST_STEPS = 10;
const MOST_SPANS = 20;
const MOST_DAYS_OFF = 1000;
const DAY_S = 86_400;

const names = (what: string) =>
  array(string().max(120).defined())
    .max(MOST_LISTED, `Expected at most ${MOST_LISTED} ${what}.`)
    .default([])
    .meta({ description: `By name; any of them will do.` });

const ids = (what: string) =>
  array(number().integer().required())
    .max(MOST_LISTED, `Expected at most ${MOST_LISTED} ${what}.`)
    .default([]);

const group = {
  sections: names('sections'),
  tags: names('tags'),
  kinds: names('kinds'),
  ids: ids('watches'),
};

const clock = (what: string, last: string) =>
  string()
    .required(`Expected ${what} such as 07:00, got nothing.`)
    .test(
      'clock',
      ({ value }) => `Expected ${what} from 00:00 to ${last}, got "${String(value).slice(0, 20)}".`,
      (value) =>
        /^\d\d:\d\d$/.test(value ?? '') &&
        minuteOfDay(value) <= minuteOfDay(last) &&
        Number(value.slice(3)) < 60,
    );

const hours = strictObject({
  zone: string()
    .required('Expected a time zone such as Europe/Lisbon, got nothing.')
    .test(
      'zone',
      ({ value }) => `Expected a time zone such as Europe/Lisbon, got "${String(value).slice(0, 60)}".`,
      (value) => isTimeZone(value ?? ''),
    ),
  spans: array(
    strictObject({
      days: array(wholeNumber('a day', '', 1, 7).required())
        .min(1, 'Expected at least one day of the week, 1 for Monday to 7 for Sunday.')
        .max(7)
        .required(),
      from: clock('a beginning', '23:59'),
      until: clock('an end', '24:00'),
    }),
  )
    .min(1, 'Expected at least one stretch of time; leave the hours out for none.')
    .max(MOST_SPANS, `Expected at most ${MOST_SPANS} stretches.`)
    .required()
    .meta({
      description: 'Wall clock of the zone. One that ends no later than it begins goes on into the next day.',
    }),
  daysOff: array(
    string()
      .required()
      .test(
        'day',
        ({ value }) => `Expected days off such as 2026-12-25, got "${String(value).slice(0, 20)}".`,
        (value) => isDay(value ?? ''),
      ),
  )
    .max(MOST_DAYS_OFF, `Expected at most ${MOST_DAYS_OFF} days off.`)
    .default([]),
  outside: string()
    .oneOf(OUTSIDE, `Expected outside to be one of ${OUTSIDE.join(', ')}.`)
    .default('hold')
    .meta({
      description:
        'What becomes of the rest: held and told together when hours open, the same but for what is for any hour, or not told.',
    }),
});

export const routeSchema = strictObject({
  name: title('a name for the route', 80),
  enabled: boolean().default(true).meta({ description: 'Whether anything goes by it.' }),
  watches: strictObject({
    all: boolean().default(false),
    ...group,
    except: strictObject(group).default({ sections: [], tags: [], kinds: [], ids: [] }),
  }).default({ all: true }),
  topics: array(
    string()
      .oneOf(
        TOPIC_NAMES,
        ({ value }) =>
          `Expected topics among ${TOPIC_NAMES.join(', ')}, got "${String(value).slice(0, 40)}".`,
      )
      .required(),
  )
    .min(1, 'Expected at least one thing to be told.')
    .default([...USUAL_TOPICS])
    .meta({ description: 'What is told by it.' }),
  steps: array(
    strictObject({
      after: wholeNumber('after', 'seconds', 0, 7 * DAY_S)
        .default(0)
        .meta({ description: 'Seconds since it was noticed; over by then, and nothing is told.' }),
      channels: ids('channels'),
    }),
  )
    .min(1, 'Expected at least one step.')
    .max(MOST_STEPS, `Expected at most ${MOST_STEPS} steps.`)
    .test(
      'rising',
      'Expected steps that come one after the other: each later than the one before.',
      (steps) => (steps ?? []).every((step, i) => i === 0 || step.after > steps![i - 1]!.after),
    )
    .required('Expected at least one step.')
    .meta({ description: 'Who hears, and who hears next if nobody has taken it by then.' }),
  again: wholeNumber('again', 'seconds', 60, 7 * DAY_S)
    .nullable()
    .default(null)
    .meta({
      description:
        'All who heard are told again every so many seconds until somebody has it; null for never.',
    }),
  againMost: wholeNumber('againMost', 'times', 1, 1000)
    .nullable()
    .default(null)
    .meta({ description: 'No more often than this; null for no end.' }),
  hours: hours.nullable().default(null).meta({ description: 'When it speaks; null for day and night.' }),
});

/** A route that is tried on the past. */
export const routeTrialSchema = routeSchema.shape({
  routeId: wholeNumber('the id of a route', '', 1, Number.MAX_SAFE_INTEGER).nullable().default(null).meta({
    description: 'The one it would take the place of; left out, it is tried besides those there are.',
  }),
});

/** Of a route, what it is about. */
export const routeScopeSchema = routeSchema.pick(['watches']);
