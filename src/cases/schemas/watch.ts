import { array, mixed, string, type AnySchema } from 'yup';
import { timesProblem } from '@/core/schedule/schedule';
import type { CronDialect } from '@/core/schedule/cron-times';
import { isTimeZone } from '@/core/time/zone-time';
import { parseTyped } from '@/probes/frame/address';
import { probeKind, probeKinds } from '@/probes/kinds/registry';
import { strictObject } from './common';
import { checkinTiming, probeTiming } from './timing';

const common = {
  name: string()
    .trim()
    .default('')
    .max(120, ({ value }) => `Expected a name of at most 120 characters, got ${String(value).length}.`)
    .meta({ description: 'What the watch is called; made from the address when left out.' }),
  section: string()
    .trim()
    .nullable()
    .default(null)
    .max(80, 'Expected a section name of at most 80 characters.')
    .transform((value: unknown) => (value === '' ? null : value))
    .meta({
      jsonSchema: {
        oneOf: [
          { type: 'string', maxLength: 80 },
          {
            type: 'object',
            properties: { id: { type: 'integer' }, name: { type: 'string', maxLength: 80 } },
            additionalProperties: false,
          },
          { type: 'null' },
        ],
      },
      description:
        'The section it belongs to, by its name or as it is read: id, name or both; one that is new is made.',
    }),
  tags: array(tagName().required())
    .optional()
    .default(undefined)
    .max(20, 'Expected at most 20 tags.')
    .meta({ description: 'Names of tags; those that are new are made.' }),
};

export function tagName() {
  return string()
    .trim()
    .max(40, ({ value }) => `Expected a tag of at most 40 characters, got ${String(value).length}.`)
    .matches(/^[^,]*$/, 'Expected a tag without a comma.');
}

/** The names of settings that go back to what holds for others. */
export const inherit = array(string().required())
  .optional()
  .default(undefined)
  .meta({ description: 'Names of settings to give back, such as "everySeconds" or "settings.soonDays".' });

const MOST_DAYS_OFF = 1000;

export const scheduleSchema = mixed()
  .required('Expected a schedule, got nothing.')
  .test('schedule', 'Expected a schedule.', function check(value) {
    const given = (value ?? {}) as Record<string, unknown>;
    const fail = (field: string, message: string) => this.createError({ path: `schedule.${field}`, message });
    if (given.type === 'period') {
      const every = given.everySeconds;
      return Number.isInteger(every) && Number(every) >= 10 && Number(every) <= 400 * 86_400
        ? true
        : fail(
            'everySeconds',
            `Expected everySeconds to be a whole number of seconds from 10 to ${400 * 86_400}, got ${JSON.stringify(every ?? null)}.`,
          );
    }
    if (given.type === 'cron' || given.type === 'calendar') {
      const { type, expression, zone, daysOff = [], dialect = 'usual', ...rest } = given;
      const extra = Object.keys(rest)[0];
      if (extra !== undefined)
        return fail(extra, `Expected only type, expression, zone, dialect, daysOff; got ${extra}.`);
      if (typeof zone !== 'string' || !isTimeZone(zone))
        return fail('zone', `Expected a time zone such as Europe/Lisbon, got ${JSON.stringify(zone ?? '')}.`);
      if (typeof expression !== 'string')
        return fail(
          'expression',
          `Expected times such as 30 2 * * *, got ${JSON.stringify(expression ?? '')}.`,
        );
      if (dialect !== 'usual' && dialect !== 'debian')
        return fail('dialect', `Expected dialect to be usual or debian, got ${JSON.stringify(dialect)}.`);
      if (daysOff instanceof Array && daysOff.some((day) => typeof day !== 'string'))
        return fail('daysOff', 'Expected days such as 2026-12-25.');
      if (!Array.isArray(daysOff) || daysOff.length > MOST_DAYS_OFF)
        return fail('daysOff', `Expected a list of at most ${MOST_DAYS_OFF} days such as 2026-12-25.`);
      const times = { type: type as 'cron', expression, zone, dialect: dialect as CronDialect };
      const problem = timesProblem(times, Date.now());
      if (problem) return fail('expression', problem);
      const wrongDay = timesProblem({ ...times, daysOff: daysOff as string[] }, Date.now());
      return wrongDay === null ? true : fail('daysOff', wrongDay);
    }
    return fail(
      'type',
      `Expected type to be period, cron or calendar, got ${JSON.stringify(given.type ?? null)}.`,
    );
  })
  .meta({
    jsonSchema: {
      oneOf: [
        {
          type: 'object',
          required: ['type', 'everySeconds'],
          properties: { type: { const: 'period' }, everySeconds: { type: 'integer', minimum: 10 } },
        },
        {
          type: 'object',
          required: ['type', 'expression', 'zone'],
          properties: {
            type: { enum: ['cron', 'calendar'] },
            expression: { type: 'string', examples: ['30 2 * * *', 'Mon..Fri 06:30'] },
            zone: { type: 'string', examples: ['Europe/Lisbon'] },
            dialect: { enum: ['usual', 'debian'], description: 'Whose cron it is; left out, the usual one.' },
            daysOff: { type: 'array', items: { type: 'string', format: 'date' } },
          },
        },
      ],
    },
    description:
      'When the job is expected: a period in seconds, or times in a zone, as cron (crontab(5)) or calendar events (systemd.time(7)), several one a line; not on days off.',
  });

export const checkinSchema = strictObject({
  kind: string().oneOf(['checkin']).required(),
  name: common.name.required('Expected a name for the job, got nothing.'),
  section: common.section,
  tags: common.tags,
  schedule: scheduleSchema,
  ...checkinTiming,
  inherit,
});

export const bulkSchema = strictObject({
  text: string()
    .required('Expected a list of addresses or CSV, got nothing.')
    .max(500_000, 'Expected at most 500,000 characters.')
    .meta({
      description:
        'Addresses one a line, or CSV with address, name, section, kind and every (seconds, or a length such as 5 min).',
    }),
});

export const offerSchema = strictObject({
  address: string()
    .trim()
    .required('Expected an address such as booking.ternferry.test, got nothing.')
    .max(2000)
    .test(
      'address',
      ({ value }) =>
        `Expected an address such as booking.ternferry.test or 192.0.2.7:8080, got “${String(value)}”.`,
      (value) => parseTyped(value ?? '') !== null,
    )
    .meta({ description: 'What a person would type: a name, an address, host:port, or a web address.' }),
});

export function probeSchema(kindId: string): AnySchema | null {
  const kind = probeKind(kindId);
  if (!kind) return null;
  return strictObject({
    kind: string().oneOf([kindId]).required(),
    ...common,
    ...probeTiming,
    settings: kind.schema.required('Expected settings.'),
    inherit,
  });
}

export function watchKindIds(): string[] {
  return [...probeKinds().map((kind) => kind.id), 'checkin'];
}
