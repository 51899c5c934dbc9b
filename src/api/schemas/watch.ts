import { array, mixed, number, string, type AnySchema } from 'yup';
import { circleFrom } from '../../core/graph';
import { cronProblem, isTimeZone } from '../../core/schedule';
import type { WatchConfig } from '../../core/watch-config';
import { parseTyped } from '../../probes/address';
import { probeKind, probeKinds } from '../../probes/registry';
import type { WatchWithStatus } from '../../store/watches';
import type { Vault } from '../../store/vault';
import { Problem, refused } from '../problem';
import { sealSecrets, splitKept } from '../secret-settings';
import { validateBody } from '../validate';
import { strictObject, wholeNumber } from './common';

export const SECONDS_30_DAYS = 30 * 86_400;

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
    .meta({ description: 'The section it belongs to; made when it is new.' }),
};

const restsOn = array(number().integer().required())
  .default([])
  .max(20, 'Expected at most 20 watches to rest on.')
  .meta({
    description: 'Ids of the watches it rests on; while one is down, its own trouble is not announced.',
  });

const when = mixed()
  .nullable()
  .default(null)
  .test('when', 'Expected times.', function check(value) {
    if (value === null || value === undefined) return true;
    const { expression, zone, ...rest } = value as Record<string, unknown>;
    const extra = Object.keys(rest)[0];
    const fail = (field: string, message: string) => this.createError({ path: `when.${field}`, message });
    if (extra !== undefined) return fail(extra, `Expected only expression, zone; got ${extra}.`);
    if (!isTimeZone(String(zone ?? ''))) {
      return fail('zone', `Expected a time zone such as Europe/Lisbon, got "${String(zone ?? '')}".`);
    }
    const problem = cronProblem(String(expression ?? ''), String(zone));
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

const probeTiming = (every: number) => ({
  every: wholeNumber('every', 'seconds', 5, SECONDS_30_DAYS)
    .default(every)
    .meta({ description: 'Seconds between two looks.' }),
  when,
  timeout: wholeNumber('timeout', 'seconds', 1, 120)
    .default(10)
    .meta({ description: 'How many seconds one look may take.' }),
  secondLooks: wholeNumber('secondLooks', '', 0, 20)
    .default(2)
    .meta({ description: 'How many more failed looks before the watch counts as down.' }),
  secondLookGap: wholeNumber('secondLookGap', 'seconds', 1, 3600)
    .default(10)
    .meta({ description: 'Seconds between second looks.' }),
  slowAfter: wholeNumber('slowAfter', 'milliseconds', 1, 120_000)
    .nullable()
    .default(null)
    .meta({ description: 'Looks over this many milliseconds are slow; null for no limit.' }),
  slowLooks: wholeNumber('slowLooks', '', 1, 100)
    .default(3)
    .meta({ description: 'How many slow looks in a row make the watch slow.' }),
  restsOn,
});

const schedule = mixed()
  .required('Expected a schedule, got nothing.')
  .test('schedule', 'Expected a schedule.', function check(value) {
    const given = (value ?? {}) as Record<string, unknown>;
    const fail = (field: string, message: string) => this.createError({ path: `schedule.${field}`, message });
    if (given.type === 'period') {
      const every = given.every;
      return Number.isInteger(every) && Number(every) >= 10 && Number(every) <= 400 * 86_400
        ? true
        : fail(
            'every',
            `Expected every to be a whole number of seconds from 10 to ${400 * 86_400}, got ${JSON.stringify(every ?? null)}.`,
          );
    }
    if (given.type === 'cron') {
      const zone = String(given.zone ?? '');
      if (!isTimeZone(zone))
        return fail('zone', `Expected a time zone such as Europe/Lisbon, got "${zone}".`);
      const problem = cronProblem(String(given.expression ?? ''), zone);
      return problem === null ? true : fail('expression', problem);
    }
    return fail('type', `Expected type to be period or cron, got ${JSON.stringify(given.type ?? null)}.`);
  })
  .meta({
    jsonSchema: {
      oneOf: [
        {
          type: 'object',
          required: ['type', 'every'],
          properties: { type: { const: 'period' }, every: { type: 'integer', minimum: 10 } },
        },
        {
          type: 'object',
          required: ['type', 'expression', 'zone'],
          properties: {
            type: { const: 'cron' },
            expression: { type: 'string', examples: ['30 2 * * *'] },
            zone: { type: 'string', examples: ['Europe/Lisbon'] },
          },
        },
      ],
    },
    description: 'When the job is expected: a period in seconds, or a cron expression in a time zone.',
  });

export const checkinSchema = strictObject({
  kind: string().oneOf(['checkin']).required(),
  name: common.name.required('Expected a name for the job, got nothing.'),
  section: common.section,
  schedule,
  leeway: wholeNumber('leeway', 'seconds', 0, SECONDS_30_DAYS)
    .default(300)
    .meta({ description: 'How many seconds late a check-in may be before it counts as missed.' }),
  longestRun: wholeNumber('longestRun', 'seconds', 1, SECONDS_30_DAYS)
    .nullable()
    .default(null)
    .meta({ description: 'Longest allowed run in seconds; null for no limit.' }),
  restsOn,
});

export const bulkSchema = strictObject({
  text: string()
    .required('Expected a list of addresses or CSV, got nothing.')
    .max(500_000, 'Expected at most 500,000 characters.')
    .meta({ description: 'Addresses one a line, or CSV with address, name, section, kind and every.' }),
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
    ...probeTiming(kind.every ?? 60),
    settings: kind.schema.required('Expected settings.'),
  });
}

export function watchKindIds(): string[] {
  return [...probeKinds().map((kind) => kind.id), 'checkin'];
}

export interface ValidWatch {
  kind: string;
  name: string;
  section: string | null;
  config: WatchConfig;
}

/** What a check needs to know besides the watch itself. */
export interface Around {
  vault: Vault;
  /** The settings it has so far, for secrets that stay as they are. */
  stored: object | null;
  /** Null for a watch that is new. */
  id: number | null;
  others: readonly WatchWithStatus[];
}

function partsOf(kind: string, config: WatchConfig): number[] {
  return config.type === 'probe' ? (probeKind(kind)?.partsOf?.(config.settings) ?? []) : [];
}

/** Ties lead to watches there are, and never back to where they begin. */
function checkTies(kind: string, config: WatchConfig, { id, others }: Around): void {
  const names = new Map(others.map((other) => [other.id, other.name]));
  const ties: [string, number[]][] = [
    ['restsOn', config.restsOn ?? []],
    ['settings.parts', partsOf(kind, config)],
  ];
  for (const [field, ids] of ties) {
    const missing = ids.find((other) => !names.has(other));
    if (missing !== undefined)
      throw refused([{ field, message: `Expected ids of watches; there is no watch ${missing}.` }]);
  }
  if (id === null) return;
  const edges = new Map(
    others.map((w) => [w.id, [...(w.config.restsOn ?? []), ...partsOf(w.kind, w.config)]]),
  );
  for (const [field, ids] of ties) {
    const circle = circleFrom(new Map([...edges, [id, ids]]), id);
    if (!circle) continue;
    const way = circle.map((one) => names.get(one) ?? String(one)).join(' → ');
    throw refused([{ field, message: `Expected no circle, got ${way}.` }]);
  }
}

/** Checks a watch as it came, fills in what was left out, and seals its secrets. */
export async function validateWatch(body: unknown, around: Around): Promise<ValidWatch> {
  if (body === null || typeof body !== 'object' || Array.isArray(body)) {
    throw new Problem(400, 'Not readable', 'Expected a JSON object that describes a watch.');
  }
  const kindId = (body as { kind?: unknown }).kind ?? 'web';
  const schema = kindId === 'checkin' ? checkinSchema : probeSchema(String(kindId));
  if (!schema) {
    const message = `Expected kind to be one of ${watchKindIds().join(', ')}, got ${JSON.stringify(kindId)}.`;
    throw refused([{ field: 'kind', message }]);
  }
  const probe = probeKind(String(kindId));
  const split = probe ? splitKept(probe, (body as { settings?: unknown }).settings) : null;
  const given = { ...body, kind: kindId, ...(split && { settings: split.settings }) };
  const valid = await validateBody<Record<string, never>>(schema, given);
  const { kind, name, section, ...rest } = valid as unknown as ValidWatch & Record<string, unknown>;
  if (!probe || !split) {
    const config = { type: 'checkin', ...rest } as unknown as WatchConfig;
    checkTies(kind, config, around);
    return { kind, name, section, config };
  }
  const settings = sealSecrets(probe, rest.settings as object, split.kept, around.stored, around.vault);
  const config = { type: 'probe', ...rest, settings } as unknown as Extract<WatchConfig, { type: 'probe' }>;
  checkTies(kind, config, around);
  return { kind, name: name || probe.nameOf(config.settings), section, config };
}
