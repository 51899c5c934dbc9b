import { array, mixed, number, string } from 'yup';
import { listedIn } from '@/core/reports/mail-words';
import { TELLS } from '@/core/settings/tells';
import { URGENCIES } from '@/core/settings/urgency';
import { cronProblem } from '@/core/schedule/schedule';
import { isTimeZone } from '@/core/time/zone-time';
import { wholeNumber } from './common';

export const SECONDS_30_DAYS = 30 * 86_400;

const restsOn = array(number().integer().required())
  .optional()
  .default(undefined)
  .max(20, 'Expected at most 20 watches to rest on.')
  .meta({
    description: 'Ids of the watches it rests on; while one is down, its own trouble is not announced.',
  });

const when = mixed()
  .nullable()
  .optional()
  .test('when', 'Expected times.', function check(value) {
    if (value === null || value === undefined) return true;
    if (typeof value !== 'object' || Array.isArray(value)) {
      return this.createError({ message: 'Expected when to be null, or an object of expression and zone.' });
    }
    const { expression, zone, ...rest } = value as Record<string, unknown>;
    const extra = Object.keys(rest)[0];
    const fail = (field: string, message: string) => this.createError({ path: `when.${field}`, message });
    if (extra !== undefined) return fail(extra, `Expected only expression, zone; got ${extra}.`);
    if (typeof zone !== 'string' || !isTimeZone(zone)) {
      return fail('zone', `Expected a time zone such as Europe/Lisbon, got ${JSON.stringify(zone ?? '')}.`);
    }
    if (typeof expression !== 'string') {
      return fail(
        'expression',
        `Expected times such as */10 8-18 * * 1-5, got ${JSON.stringify(expression ?? '')}.`,
      );
    }
    const problem = cronProblem(expression, zone);
    return problem === null ? true : fail('expression', problem);
  })
  .meta({
    jsonSchema: {
      oneOf: [
        { type: 'null' },
        {
          type: 'object',
          required: ['expression', 'zone'],
          properties: {
            expression: { type: 'string', examples: ['*/10 8-18 * * 1-5'] },
            zone: { type: 'string', examples: ['Europe/Lisbon'] },
          },
        },
      ],
    },
    description: 'Cron times to look at, in place of every so many seconds; second looks keep their own gap.',
  });

const LONGEST_NOTE = 1000;

/** What messages say of every watch, and how much it matters. */
const telling = {
  urgency: string()
    .oneOf(
      URGENCIES,
      ({ value }) => `Expected urgency to be one of ${URGENCIES.join(', ')}, got ${JSON.stringify(value)}.`,
    )
    .meta({
      description:
        'How much its trouble matters: what is for any hour passes quiet hours that let that through.',
    }),
  tells: string()
    .oneOf(
      TELLS,
      ({ value }) => `Expected tells to be one of ${TELLS.join(', ')}, got ${JSON.stringify(value)}.`,
    )
    .meta({
      description:
        'Who hears of it: as the routes say, the channels of tellsTo besides, those alone, or nobody.',
    }),
  tellsTo: array(number().integer().required())
    .max(20, 'Expected at most 20 channels.')
    .meta({ description: 'Ids of channels that hear of it at once, by no route.' }),
  runbook: string()
    .trim()
    .max(2000)
    .test(
      'address',
      ({ value }) =>
        `Expected an address that begins with http:// or https://, got "${String(value).slice(0, 80)}".`,
      (value) => !value || (/^https?:\/\//i.test(value) && URL.canParse(value)),
    )
    .meta({ description: 'Where it is written what to do when it is down; stands in messages.' }),
  runbookNote: string()
    .trim()
    .max(LONGEST_NOTE, `Expected what to do in at most ${LONGEST_NOTE} characters.`)
    .meta({ description: 'What to do when it is down, in a few lines; stands in messages.' }),
};

/** What may be set once for many probes. What is left out comes from farther away. */
export const probeTiming = {
  everySeconds: wholeNumber('everySeconds', 'seconds', 5, SECONDS_30_DAYS).meta({
    description: 'Seconds between two looks.',
  }),
  when,
  timeoutSeconds: wholeNumber('timeoutSeconds', 'seconds', 1, 120).meta({
    description: 'How many seconds one look may take.',
  }),
  secondLooks: wholeNumber('secondLooks', '', 0, 20).meta({
    description: 'How many more failed looks before the watch counts as down.',
  }),
  secondLookGapSeconds: wholeNumber('secondLookGapSeconds', 'seconds', 1, 3600).meta({
    description: 'Seconds between second looks.',
  }),
  slowAfterMs: wholeNumber('slowAfterMs', 'milliseconds', 1, 120_000)
    .nullable()
    .meta({ description: 'Looks over this many milliseconds are slow; null for no limit.' }),
  slowLooks: wholeNumber('slowLooks', '', 1, 100).meta({
    description: 'How many slow looks in a row make the watch slow.',
  }),
  restsOn,
  ...telling,
};

const LONGEST_LIST = 500;

function wordList(name: string) {
  return string().trim().max(LONGEST_LIST, `Expected ${name} to be at most ${LONGEST_LIST} characters.`);
}

function isSender(entry: string): boolean {
  return /^[^\s@]*@[^\s@]+$/.test(entry);
}

/** What may be set once for many check-ins. */
export const checkinTiming = {
  leewaySeconds: wholeNumber('leewaySeconds', 'seconds', 0, SECONDS_30_DAYS).meta({
    description: 'How many seconds late a check-in may be before it counts as missed.',
  }),
  longestRunSeconds: wholeNumber('longestRunSeconds', 'seconds', 1, SECONDS_30_DAYS)
    .nullable()
    .meta({ description: 'Longest allowed run in seconds; null for no limit.' }),
  shortestGapSeconds: wholeNumber('shortestGapSeconds', 'seconds', 1, SECONDS_30_DAYS)
    .nullable()
    .meta({ description: 'No less than this should pass between two runs; null for no limit.' }),
  methods: string()
    .oneOf(
      ['any', 'post'],
      ({ value }) => `Expected methods to be any or post, got ${JSON.stringify(value)}.`,
    )
    .meta({ description: 'Which requests count: any, or only POST, which no preview of a link sends.' }),
  mailFrom: wordList('mailFrom')
    .test(
      'senders',
      ({ value }) =>
        `Expected addresses, or @domain for everyone there, got "${listedIn(String(value)).find((entry) => !isSender(entry))}".`,
      (value) => listedIn(value ?? '').every(isSender),
    )
    .meta({
      description: 'Who may report by mail: addresses or @domain, with commas; empty for anyone.',
    }),
  mailFailed: wordList('mailFailed').meta({
    description: 'Words, with commas, by which a mail says that the job failed.',
  }),
  mailBegun: wordList('mailBegun').meta({
    description: 'Words, with commas, by which a mail says that the job has begun.',
  }),
  mailDone: wordList('mailDone').meta({
    description: 'Words, with commas, by which a mail says that the job is done; empty: every other mail.',
  }),
  mailWhere: string()
    .oneOf(
      ['subject', 'body'],
      ({ value }) => `Expected mailWhere to be subject or body, got ${JSON.stringify(value)}.`,
    )
    .meta({ description: 'Where words count: in the subject only, or in the body too.' }),
  restsOn,
  ...telling,
};
