// Long. One kind, one file: its settings, checks, look and words.
import * as f from '@/core/settings/fields';
import { object, string } from 'yup';
import { jsonPathProblem, valuesAt } from '@/core/expect/json-path';
import { judgeReading, limitsProblem, readingText, type Limits } from '@/core/expect/limits';
import { Pattern } from '@/core/expect/pattern';
import { normaliseWebAddress } from '@/probes/frame/address';
import { expectStatus, failMissing, pageJson, pageTextOf } from '@/probes/transport/answer';
import { USUAL_CHECKS } from '@/probes/transport/certificate-facts';
import { fetchTopic, loadMqtt, topicName, valueIn } from './broker';
import { fetchRows, firstValue, loadKnex, nameField, placeShape, type DatabasePlace } from './database';
import { hostOf, newHop, portOf } from '@/probes/transport/http-hop';
import type { FieldDescription } from '@/core/settings/field-description';
import { checkedBy, type LookContext, type ProbeKind } from '@/probes/frame/kind';
import { carryOut, certificateRung, type PlannedRung, type Run } from '@/probes/frame/run';
import * as s from '@/probes/fields/schema';
import { tlsFields } from '@/probes/fields/tls-wish';
import { fetchPage, keepExcerpt, noteReply, type Fetched } from '@/probes/transport/web-request';
import { headersOf } from '@/core/settings/header-lines';
import { signInFields, secretHeadersField } from '@/probes/fields/host-fields';

const SOURCES = ['json', 'text', 'database', 'topic'] as const;

interface ReadingSettings extends Limits, DatabasePlace {
  source: (typeof SOURCES)[number];
  what: string;
  unit: string;
  address: string;
  secretHeaders: string;
  path: string;
  pattern: string;
  topic: string;
}

const isWeb = (source: string) => source === 'json' || source === 'text';

function needed(when: (settings: ReadingSettings) => boolean, message: string) {
  return function check(
    this: { parent: unknown; createError: (e: { message: string }) => unknown },
    value: unknown,
  ) {
    const settings = this.parent as ReadingSettings;
    return ((!when(settings) || (value !== undefined && value !== null && value !== '')) as never as boolean)
      ? true
      : (this.createError({ message }) as never);
  };
}

const DEFAULT_PORTS = { postgresql: 5432, mysql: 3306 };

const schema = object({
  source: s.oneOf('Where the number comes from.', SOURCES, 'json'),
  what: s.text('What is read, as it stands in sentences: “The room temperature”.', 80),
  unit: s.text('The unit, such as °C or %.', 20),
  address: string()
    .default('')
    .max(2000)
    .transform((value: unknown) =>
      typeof value === 'string' ? (normaliseWebAddress(value) ?? value) : value,
    )
    .test(
      'address',
      'Expected a web address such as https://gauge.ternferry.test/level, got nothing.',
      needed(
        (x) => isWeb(x.source),
        'Expected a web address such as https://gauge.ternferry.test/level, got nothing.',
      ),
    )
    .test(
      'web-address',
      ({ value }) => `Expected a web address, got “${String(value)}”.`,
      (value) => !value || normaliseWebAddress(value) !== null,
    )
    .test('sign-in', s.noSignIn('Put them into a secret header, as Authorization: Basic …'))
    .meta({ description: 'The address the number is read from.' }),
  secretHeaders: s.secret('Headers to send that let somebody in, one “Name: value” a line.'),
  path: s.textThat('A JSON path to the number.', jsonPathProblem).test(
    'path',
    'Expected a path.',
    needed((x) => x.source === 'json', 'Expected a JSON path such as $.level, got nothing.'),
  ),
  pattern: s.pattern('A pattern; the number is its first group.').test(
    'pattern',
    'Expected a pattern.',
    needed((x) => x.source === 'text', 'Expected a pattern such as level: ([0-9.]+), got nothing.'),
  ),
  host: s.optionalHost('The host, for a database or a topic.').test(
    'host-needed',
    'Expected a host.',
    needed((x) => !isWeb(x.source), 'Expected a host such as db.ternferry.test, got nothing.'),
  ),
  port: s.optionalNumber('The port; the usual one when left out.', 1, 65535),
  ...placeShape(),
  topic: topicName().test(
    'topic-needed',
    'Expected a topic.',
    needed((x) => x.source === 'topic', 'Expected a topic such as crew-house/temperature, got nothing.'),
  ),
  failLow: s.optionalNumber('Fails under this.', -1e12, 1e12, false),
  warnLow: s.optionalNumber('Asks for a hand under this.', -1e12, 1e12, false),
  warnHigh: s.optionalNumber('Asks for a hand over this.', -1e12, 1e12, false),
  failHigh: s
    .optionalNumber('Fails over this.', -1e12, 1e12, false)
    .test('limits', 'Expected limits that rise.', function check() {
      const wrong = limitsProblem(this.parent as Limits);
      return wrong === null || this.createError({ message: wrong });
    }),
});

function portOfSettings(settings: ReadingSettings): number {
  if (isWeb(settings.source)) return portOf(new URL(settings.address));
  if (settings.port) return settings.port;
  return settings.source === 'topic' ? 1883 : DEFAULT_PORTS[settings.service];
}

function hostOfSettings(settings: ReadingSettings): string {
  return isWeb(settings.source) ? hostOf(new URL(settings.address)) : settings.host;
}

async function fromPage(run: Run, settings: ReadingSettings): Promise<unknown> {
  const url = new URL(settings.address);
  const fetched: Fetched = { url, hop: newHop() };
  let passed = false;
  const secretHeaders = headersOf(settings.secretHeaders);
  const { authority, skipVerify } = settings;
  const checks = USUAL_CHECKS;
  try {
    const wish = { privateHeaders: secretHeaders, authority, skipVerify, checks };
    await fetchPage(run, url, wish, 'follow', fetched);
    expectStatus(run, '200-299', fetched.hop.status ?? 0);
    const page = pageTextOf(fetched.hop);
    const { source, path, pattern } = settings;
    const value =
      source === 'json' ? valuesAt(path, pageJson(run, page))[0] : Pattern.of(pattern).firstIn(page.text);
    if (value === undefined || value === null) {
      const what = source === 'json' ? path : pattern;
      failMissing(run, page, `A match of ${what}`, 'value.none', { what });
    }
    passed = true;
    return value;
  } finally {
    noteReply(run, fetched);
    if (!passed) keepExcerpt(run, fetched.hop, Object.values(secretHeaders));
  }
}

async function fetchValue(run: Run, settings: ReadingSettings): Promise<unknown> {
  const place = { ...settings, port: portOfSettings(settings) };
  if (isWeb(settings.source)) return fromPage(run, settings);
  if (settings.source === 'database') {
    const value = firstValue(await fetchRows(run, place));
    return value === undefined ? run.fail('value.none', { what: 'the first row' }) : value;
  }
  const message = await fetchTopic(run, place);
  const value = valueIn(run, message?.text ?? '', settings.path);
  return value === undefined ? run.fail('value.none', { what: settings.path }) : value;
}

function rungs(settings: ReadingSettings): PlannedRung[] {
  const secure = isWeb(settings.source) ? settings.address.startsWith('https:') : settings.tls;
  return [
    ['name', 'name'],
    ['port', `port ${portOfSettings(settings)}`],
    ...certificateRung(secure),
    ['reply', 'reply'],
    ['content', 'reading'],
  ];
}

function look(given: ReadingSettings, context: LookContext) {
  const settings = { ...reading.defaults, ...given };
  const what = settings.what || 'The reading';
  return carryOut(
    context,
    { host: hostOfSettings(settings), port: portOfSettings(settings), timeoutMs: context.timeoutMs },
    () => rungs(settings),
    async (run) => {
      const got = await fetchValue(run, settings);
      // Some countries write a comma before the fraction.
      const text = String(got)
        .trim()
        .replace(/^(-?\d+),(\d+)$/, '$1.$2');
      const value = text === '' ? Number.NaN : Number(text);
      if (!Number.isFinite(value))
        run.fail('value.no-number', { what: what.toLowerCase(), got: `“${text.slice(0, 80)}”` });
      run.evidence.reading = { value, unit: settings.unit };
      run.fact('reading', readingText(value, settings.unit));
      const verdict = judgeReading(what, value, settings.unit, settings);
      if (verdict?.verdict === 'failed') run.fail(verdict.cause, verdict.detail);
      if (verdict) run.warn(verdict.cause, verdict.detail);
    },
  );
}

const from = (...is: string[]): FieldDescription['when'] => ({ field: 'source', is });
const only = (fields: FieldDescription[], when: FieldDescription['when']) =>
  fields.map((f) => ({ ...f, when }));

function limitText({ failLow, failHigh, unit }: ReadingSettings): string {
  const parts = [
    failLow === null ? '' : `under ${readingText(failLow, unit)}`,
    failHigh === null ? '' : `over ${readingText(failHigh, unit)}`,
  ].filter(Boolean);
  return parts.length === 0
    ? 'Fails when there is no number to read.'
    : `Fails ${parts.join(' and ')}, and when there is no number to read.`;
}

export const reading: ProbeKind<ReadingSettings> = {
  id: 'reading',
  title: 'reading',
  help: 'Reads a number and draws it: a temperature, memory in use, the length of a queue.',
  ...checkedBy<ReadingSettings>(schema),
  every: 300,
  fields: [
    f.choice('source', 'Where the number comes from', 'The same ways as the other kinds of watch.', [
      ['json', 'JSON at an address'],
      ['text', 'a pattern on a page'],
      ['database', 'a row of a database'],
      ['topic', 'an MQTT topic'],
    ]),
    f.text('address', 'Address', 'Where it is read.', {
      placeholder: 'https://gauge.ternferry.test/level',
      when: from('json', 'text'),
    }),
    f.text('pattern', 'Pattern', 'The number is its first group in brackets.', {
      placeholder: 'level: ([0-9.]+) cm',
      when: from('text'),
    }),
    ...only(
      [
        f.text('host', 'Host', 'A name or an address.', { placeholder: 'db.ternferry.test' }),
        f.number('port', 'Port', 'Leave empty for the usual one.'),
      ],
      from('database', 'topic'),
    ),
    f.choice(
      'service',
      'Which database',
      'An account that may only read is best.',
      [
        ['postgresql', 'PostgreSQL'],
        ['mysql', 'MySQL or MariaDB'],
      ],
      { when: from('database') },
    ),
    ...only([nameField], from('database')),
    ...only(signInFields(), from('database', 'topic')),
    f.area(
      'query',
      'Query',
      'One statement, run in a transaction that may only read; its first value counts.',
      { placeholder: 'SELECT count(*) FROM waiting', when: from('database') },
    ),
    f.text('topic', 'Topic', 'Its last value is read.', {
      placeholder: 'crew-house/temperature',
      when: from('topic'),
    }),
    f.text('path', 'JSON path', 'Where in the answer the number stands (RFC 9535).', {
      placeholder: '$.level',
      when: from('json', 'topic'),
    }),
    f.text('what', 'What it is', 'As it stands at the beginning of a sentence.', {
      placeholder: 'The room temperature',
    }),
    f.text('unit', 'Unit', 'Such as °C, % or MB.', { placeholder: '°C' }),
    f.number('failLow', 'Fails under', 'Leave empty for no limit.'),
    f.number('warnLow', 'Warns under', 'Shown as wanting a hand; one message.'),
    f.number('warnHigh', 'Warns over', 'Shown as wanting a hand; one message.'),
    f.number('failHigh', 'Fails over', 'Leave empty for no limit.'),
    secretHeadersField('One “Name: value” a line.', { extra: 'What is sent', when: from('json', 'text') }),
    f.toggle('tls', 'Goes over to TLS', 'Its certificate is checked.', {
      extra: 'Certificates',
      when: from('database', 'topic'),
    }),
    ...tlsFields(),
  ],
  hostOf: (settings) => hostOfSettings({ ...reading.defaults, ...settings }),
  targetOf: (settings) =>
    isWeb(settings.source)
      ? settings.address
      : `${settings.host} ${settings.topic || settings.database}`.trim(),
  nameOf: (settings) =>
    settings.what.replace(/^the /i, '').replace(/^./, (c) => c.toUpperCase()) ||
    `Reading from ${hostOfSettings({ ...reading.defaults, ...settings })}`,
  walkTo: (given) => {
    const settings = { ...reading.defaults, ...given };
    const host = hostOfSettings(settings);
    const tls = isWeb(settings.source)
      ? settings.address.startsWith('https:')
      : settings.source === 'topic' && settings.tls;
    return { host, port: portOfSettings(settings), tls, servername: settings.servername || host };
  },
  verdictSentence: (settings) => limitText({ ...reading.defaults, ...settings }),
  prepare: async ({ source }) => {
    if (source === 'database') await loadKnex();
    if (source === 'topic') await loadMqtt();
  },
  look,
};
