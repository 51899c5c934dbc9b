import * as f from '@/core/settings/fields';
import { Resolver } from 'node:dns/promises';
import { isIP } from 'node:net';
import { object, string } from 'yup';
import { formatDuration } from '@/core/time/duration';
import { recordProblem, RECORD_TYPES, sameRecords, type RecordType } from '@/core/expect/records';
import { checkedBy, type LookContext, type ProbeKind } from '@/probes/frame/kind';
import { carryOut, type Run } from '@/probes/frame/run';
import * as s from '@/probes/fields/schema';

const RULES = ['exists', 'equals', 'contains', 'same'] as const;

interface NameSettings {
  name: string;
  type: RecordType;
  resolver: string;
  rule: (typeof RULES)[number];
  expected: string;
}

const MOST_RECORDS = 200;

const schema = object({
  name: string()
    .trim()
    .required('Expected a name such as ternferry.test, got nothing.')
    .max(253)
    .matches(/^[\w.*:-]+$/, ({ value }) => `Expected a name such as ternferry.test, got “${String(value)}”.`)
    .meta({ description: 'The name to ask for; for PTR an address will do.' }),
  type: s.oneOf('The type of record.', RECORD_TYPES, 'A'),
  resolver: s.textThat(
    'The name server to ask, as address or address:port; empty for the system’s own.',
    (value) =>
      resolverOf(value)
        ? null
        : `Expected the address of a name server such as 192.0.2.53 or 192.0.2.53:5353, got “${value}”.`,
  ),
  rule: s.oneOf('What must hold.', RULES, 'exists'),
  expected: string()
    .default('')
    .max(4000)
    .test('expected', function check(value) {
      const { rule, type } = this.parent as NameSettings;
      if (rule !== 'equals' && rule !== 'contains') return true;
      const lines = linesOf(value ?? '');
      if (lines.length === 0)
        return this.createError({ message: 'Expected at least one record, got nothing.' });
      const wrong = lines.map((line) => recordProblem(type, line)).find((problem) => problem !== null);
      return wrong === undefined || this.createError({ message: wrong });
    })
    .meta({ description: 'The records that are expected, one a line.' }),
});

function linesOf(text: string): string[] {
  return text
    .split('\n')
    .map((line) => line.trim())
    .filter(Boolean);
}

function resolverOf(typed: string): string | null {
  const match = /^\[([0-9a-f:.]+)\]:(\d{1,5})$/i.exec(typed) ?? /^([\d.]+)(?::(\d{1,5}))?$/.exec(typed);
  const address = match ? match[1]! : typed;
  if (!isIP(address)) return null;
  const port = match?.[2] ? Number(match[2]) : 53;
  if (port < 1 || port > 65535) return null;
  return isIP(address) === 6 ? `[${address}]:${port}` : `${address}:${port}`;
}

/** The records of a name as text, in the presentation format of their types. Throws the resolver's own error. */
async function askFor(resolver: Resolver, name: string, type: RecordType): Promise<string[]> {
  switch (type) {
    case 'A':
      return resolver.resolve4(name);
    case 'AAAA':
      return resolver.resolve6(name);
    case 'CNAME':
      return resolver.resolveCname(name);
    case 'NS':
      return resolver.resolveNs(name);
    case 'PTR':
      return isIP(name) ? resolver.reverse(name) : resolver.resolvePtr(name);
    case 'TXT':
      return (await resolver.resolveTxt(name)).map((parts) => parts.join(''));
    case 'MX':
      return (await resolver.resolveMx(name)).map((mx) => `${mx.priority} ${mx.exchange}`);
    case 'SRV':
      return (await resolver.resolveSrv(name)).map((r) => `${r.priority} ${r.weight} ${r.port} ${r.name}`);
    case 'CAA':
      return (await resolver.resolveCaa(name)).map((record) => {
        const { critical, type: _, ...rest } = record as typeof record & { type?: string };
        const [tag, value] = Object.entries(rest)[0] ?? ['', ''];
        return `${critical} ${tag} "${String(value)}"`;
      });
  }
}

function judge(run: Run, settings: NameSettings, records: string[]): void {
  const { name, type, rule, expected } = settings;
  const got = records.join(', ').slice(0, 300);
  const wanted = linesOf(expected);
  const detail = { host: name, type, got, expected: wanted.join(', ').slice(0, 300) };
  if (rule === 'equals' && !sameRecords(type, records, wanted)) run.fail('record.differs', detail);
  if (rule === 'contains' && !wanted.every((one) => records.some((r) => sameRecords(type, [r], [one])))) {
    run.fail('record.missing', detail);
  }
  if (rule !== 'same') return;
  const baseline = run.context.before?.baseline ?? records.join('\n');
  run.evidence.baseline = baseline;
  if (!sameRecords(type, records, baseline.split('\n'))) {
    run.fail('record.changed', {
      host: name,
      type,
      before: baseline.split('\n').join(', ').slice(0, 300),
      got,
    });
  }
}

function look(given: NameSettings, context: LookContext) {
  const settings = { ...name.defaults, ...given };
  const { name: asked, type, resolver: chosen } = settings;
  return carryOut(
    context,
    { host: asked, port: 53, timeoutMs: context.timeoutMs },
    () => [
      ['name', 'name'],
      ['content', `${type} record`],
    ],
    async (run) => {
      if (context.before?.baseline !== undefined) run.evidence.baseline = context.before.baseline;
      const resolver = new Resolver({ timeout: Math.max(500, Math.floor(context.timeoutMs / 3)), tries: 3 });
      if (chosen !== '') resolver.setServers([resolverOf(chosen)!]);
      // Its own time-outs are inexact; the run's is not.
      run.onEnd(() => resolver.cancel());
      run.fact('asked', chosen || resolver.getServers()[0] || 'the system’s resolver');
      let records: string[];
      try {
        records = await askFor(resolver, asked, type);
      } catch (error) {
        const code = (error as NodeJS.ErrnoException).code;
        const limit = formatDuration(context.timeoutMs);
        if (code === 'ENODATA') run.fail('name.no-record', { host: asked, type });
        if (code === 'ETIMEOUT' || code === 'ECANCELLED') run.fail('name.timeout', { host: asked, limit });
        // A closed port at the name server is silence to whoever asks for a name.
        if (code === 'ECONNREFUSED') run.fail('name.server-failed', { host: asked });
        throw error;
      }
      // A name that only points elsewhere comes back as no record at all.
      if (records.length === 0) run.fail('name.no-record', { host: asked, type });
      run.lap('name', 'reply');
      for (const record of records.slice(0, 20)) run.fact(type, record);
      if (records.length > 20) run.fact('more', `${records.length - 20} further records`);
      judge(run, settings, records.slice(0, MOST_RECORDS));
    },
  );
}

export const name: ProbeKind<NameSettings> = {
  id: 'name',
  title: 'name (DNS)',
  help: 'Asks a name server for a record and compares it with what it should be.',
  ...checkedBy<NameSettings>(schema),
  every: 3600,
  fields: [
    f.text('name', 'Name to look up', 'Such as ternferry.test.', { placeholder: 'ternferry.test' }),
    f.choice(
      'type',
      'Record',
      'A and AAAA are addresses, MX where mail goes, CAA who may issue certificates.',
      RECORD_TYPES,
    ),
    f.choice('rule', 'What must hold', '“Must not change” compares with what the first look found.', [
      ['exists', 'there is one'],
      ['equals', 'these and no others'],
      ['contains', 'these among others'],
      ['same', 'must not change'],
    ]),
    f.area(
      'expected',
      'Expected records',
      'One a line, as a zone file writes them: “10 mail.ternferry.test” for MX. Their order does not count.',
      { placeholder: '192.0.2.10', when: { field: 'rule', is: ['equals', 'contains'] } },
    ),
    f.text(
      'resolver',
      'Name server to ask',
      'Its address, with :port where it is not 53. Leave empty for the system’s own.',
      { shared: true, placeholder: '192.0.2.53', extra: 'Which way it goes' },
    ),
  ],
  hostOf: (settings) => settings.resolver || settings.name,
  targetOf: (settings) => `${settings.type} ${settings.name}`,
  nameOf: (settings) => `${settings.name} (${settings.type} record)`,
  walkTo: () => null,
  verdictSentence: ({ name: asked, type, rule }, timeoutMs) =>
    `Fails when no name server answers for ${asked} within ${formatDuration(timeoutMs)}, when there is no ${type} record` +
    `${{ exists: '', equals: ', or when its records are others than expected', contains: ', or when an expected record is missing', same: ', or when its records change' }[rule]}.`,
  look,
};
