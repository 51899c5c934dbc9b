import { object, string } from 'yup';
import { PHASES, type Evidence, type Finding, type Phases, type Rung } from '../core/finding';
import { formatDuration } from '../core/duration';
import { normaliseWebAddress, parseStatusRanges } from './address';
import { requestHop, type Hop } from './http-hop';
import type { LookContext, ProbeKind } from './kind';
import { LookFailure, timeoutCause, type Failure, type Stage } from './socket-cause';

export interface WebSettings {
  address: string;
  words: string;
  accepted: string;
}

const MOST_REDIRECTS = 10;

const schema = object({
  address: string()
    .required('Expected a web address such as https://booking.ternferry.test, got nothing.')
    .max(2000, 'Expected an address of at most 2000 characters.')
    .transform((value: unknown) =>
      typeof value === 'string' ? (normaliseWebAddress(value) ?? value) : value,
    )
    .test(
      'web-address',
      ({ value }) => `Expected a web address such as https://booking.ternferry.test, got "${String(value)}".`,
      (value) => (value === undefined ? false : normaliseWebAddress(value) !== null),
    )
    .meta({ description: 'The address to look at; http or https.' }),
  words: string()
    .default('')
    .max(500, 'Expected at most 500 characters.')
    .meta({ description: 'These words must be on the page; empty for no such test.' }),
  accepted: string()
    .default('200-299')
    .max(200)
    .test(
      'status-ranges',
      ({ value }) => `Expected status codes such as "200-299, 401", got "${String(value)}".`,
      (value) => parseStatusRanges(value ?? '') !== null,
    )
    .meta({ description: 'Status codes that count as fine, such as "200-299, 401".' }),
});

function textOf(hop: Hop): string {
  const charset = /charset=["']?([\w-]+)/i.exec(hop.headers?.['content-type'] ?? '')?.[1] ?? 'utf-8';
  const bytes = Buffer.concat(hop.body);
  try {
    return new TextDecoder(charset).decode(bytes);
  } catch {
    return bytes.toString('utf8');
  }
}

function countWords(text: string, words: string): number {
  const squeeze = (s: string) => s.replace(/\s+/g, ' ');
  return squeeze(text).split(squeeze(words.trim())).length - 1;
}

/** Throws a `LookFailure` when the complete reply does not pass. */
function judge(settings: WebSettings, hop: Hop, evidence: Evidence): void {
  const status = hop.status ?? 0;
  const ranges = parseStatusRanges(settings.accepted) ?? [[200, 299]];
  if (!ranges.some(([from, to]) => status >= from && status <= to)) {
    throw new LookFailure({ cause: 'reply.status', detail: { status } });
  }
  if (settings.words.trim() === '') return;
  evidence.wordsFound = countWords(textOf(hop), settings.words);
  if (evidence.wordsFound === 0) {
    throw new LookFailure({ cause: 'text.missing', detail: { words: settings.words.trim() } });
  }
}

function redirectOf(hop: Hop, from: URL): URL | null {
  const location = hop.headers?.location;
  if (!location || ![301, 302, 303, 307, 308].includes(hop.status ?? 0)) return null;
  const bad = new LookFailure({ cause: 'reply.bad-redirect', detail: { location: location.slice(0, 200) } });
  let next: URL;
  try {
    next = new URL(location, from);
  } catch {
    throw bad;
  }
  if (next.protocol !== 'http:' && next.protocol !== 'https:') throw bad;
  return next;
}

function addPhases(total: Phases, hop: Phases): void {
  for (const phase of PHASES) {
    if (hop[phase] !== undefined) total[phase] = (total[phase] ?? 0) + hop[phase];
  }
}

function ladderOf(url: URL, stage: Stage, failure: Failure | null, hop: Hop, words: string): Rung[] {
  const secure = url.protocol === 'https:';
  const port = url.port || (secure ? '443' : '80');
  const rungs: [Rung['rung'], string][] = [
    ['name', 'name'],
    ['port', `port ${port}`],
    ...(secure ? ([['certificate', 'certificate']] as [Rung['rung'], string][]) : []),
    ['reply', hop.status ? `reply ${hop.status}` : 'reply'],
    ...(words ? ([['content', 'words']] as [Rung['rung'], string][]) : []),
  ];
  const broke = failure ? brokenRung(failure, stage) : null;
  const at = broke ? rungs.findIndex(([rung]) => rung === broke) : rungs.length;
  return rungs.map(([rung, label], i) => ({
    rung,
    label,
    result: i < at ? 'fine' : i === at ? 'failed' : 'not-reached',
  }));
}

function brokenRung(failure: Failure, stage: Stage): Rung['rung'] {
  const layer = failure.cause.split('.')[0];
  if (layer === 'name') return 'name';
  if (layer === 'host' || layer === 'port') return 'port';
  if (layer === 'tls') return 'certificate';
  if (layer === 'text') return 'content';
  if (layer === 'look') return stage === 'name' ? 'name' : 'port';
  return 'reply';
}

/** Looks at a web page once: at most ten redirects, each over a new connection, within one time limit. */
async function look(settings: WebSettings, context: LookContext): Promise<Finding> {
  const at = context.now();
  const started = context.monotonic();
  const evidence: Evidence = { phases: {}, redirects: 0 };
  let url = new URL(settings.address);
  let hop: Hop = { stage: 'name', phases: {}, bytes: 0, body: [] };
  let failure: Failure | null = null;
  try {
    for (;;) {
      hop = { stage: 'name', phases: {}, bytes: 0, body: [] };
      const left = context.timeoutMs - (context.monotonic() - started);
      if (left <= 0) {
        throw new LookFailure(timeoutCause('reply', { host: '', port: 0, timeoutMs: context.timeoutMs }));
      }
      try {
        await requestHop(url, hop, context, left);
      } finally {
        addPhases(evidence.phases!, hop.phases);
      }
      const next = redirectOf(hop, url);
      if (!next) break;
      if (evidence.redirects! >= MOST_REDIRECTS) {
        throw new LookFailure({ cause: 'reply.redirects', detail: { limit: MOST_REDIRECTS } });
      }
      evidence.redirects! += 1;
      url = next;
    }
    judge(settings, hop, evidence);
  } catch (error) {
    if (!(error instanceof LookFailure)) throw error;
    failure = error.failure;
  }
  Object.assign(evidence, {
    ladder: ladderOf(url, hop.stage, failure, hop, settings.words.trim()),
    address: hop.address,
    certificate: hop.certificate,
    status: hop.status,
    bytes: hop.bytes,
    ...(evidence.redirects! > 0 && { finalUrl: url.origin + url.pathname }),
  });
  const ms = context.monotonic() - started;
  return failure
    ? { at, verdict: 'failed', ms, cause: failure.cause, detail: failure.detail, evidence }
    : { at, verdict: 'fine', ms, evidence };
}

export const web: ProbeKind<WebSettings> = {
  id: 'web',
  title: 'web page',
  help: 'Fetches a page and checks its reply, its certificate and its words.',
  schema,
  defaults: { address: '', words: '', accepted: '200-299' },
  fields: [
    {
      name: 'address',
      label: 'Address',
      help: 'A page, such as booking.ternferry.test/crossings.',
      control: 'text',
      placeholder: 'booking.ternferry.test',
    },
    {
      name: 'words',
      label: 'These words must be on the page',
      help: 'Leave empty if any page will do. Written as on the page; spaces and line breaks count alike.',
      control: 'text',
      placeholder: 'Choose your crossing',
    },
    {
      name: 'accepted',
      label: 'Status codes that are fine',
      help: 'Single codes and ranges, such as 200-299, 401.',
      control: 'text',
      extra: true,
    },
  ],
  hostOf: (settings) => new URL(settings.address).hostname,
  targetOf: (settings) => settings.address,
  nameOf: (settings) => {
    const url = new URL(settings.address);
    return url.pathname === '/' ? url.hostname : `${url.hostname}${url.pathname}`.slice(0, 80);
  },
  verdictSentence: (settings, timeoutMs) =>
    `Fails when there is no complete reply within ${formatDuration(timeoutMs)}, when the status is not ` +
    `${settings.accepted}${settings.address.startsWith('https') ? ', when the certificate is not valid' : ''}` +
    `${settings.words.trim() ? `, or when the words “${settings.words.trim()}” are missing` : ''}.`,
  look,
};
