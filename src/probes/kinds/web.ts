// Long. One kind, one file: its settings, checks, look and words.
import { object, string } from 'yup';
import { compare, compareMany, expectedText } from '@/core/expect/compare';
import { formatBytes, formatDuration } from '@/core/time/duration';
import type { Finding } from '@/core/causes/finding';
import { Pattern } from '@/core/expect/pattern';
import { countWords } from '@/core/expect/words-advice';
import { normaliseWebAddress, parseStatusRanges, signInProblem } from '@/probes/frame/address';
import {
  expectStatus,
  expectWords,
  failMissing,
  pageJson,
  pageTextOf,
  type PageText,
  valuesIn,
} from '@/probes/transport/answer';
import { hostOf, newHop, portOf, type HopWish } from '@/probes/transport/http-hop';
import { USUAL_CHECKS } from '@/probes/transport/certificate-facts';
import { checkedBy, type LookContext, type ProbeKind } from '@/probes/frame/kind';
import { carryOut, type PlannedRung, type Run } from '@/probes/frame/run';
import * as s from '@/probes/fields/schema';
import { webFields } from '@/probes/fields/web-fields';
import { connectToOf, fetchPage, keepExcerpt, noteReply, type Fetched } from '@/probes/transport/web-request';
import { headerLinesProblem, headersOf } from '@/core/settings/header-lines';

export const METHODS = ['GET', 'HEAD', 'POST', 'PUT', 'PATCH', 'DELETE', 'OPTIONS'] as const;

export interface WebSettings {
  address: string;
  words: string;
  accepted: string;
  method: (typeof METHODS)[number];
  headers: string;
  secretHeaders: string;
  body: string;
  user: string;
  password: string;
  bearer: string;
  redirects: 'follow' | 'refuse' | 'lead to';
  leadTo: string;
  anyCase: boolean;
  unwantedAnyCase: boolean;
  unwanted: string;
  pattern: string;
  headerTests: s.ValueTest[];
  jsonTests: s.ValueTest[];
  smallestBytes: number | null;
  largestBytes: number | null;
  soonDays: number;
  urgentDays: number;
  connectTo: string;
  family: 'any' | '4' | '6';
  proxy: string;
  proxyUser: string;
  proxyPassword: string;
  authority: string;
  clientCertificate: string;
  clientKey: string;
  skipVerify: boolean;
}

const MOST_BYTES = 100_000_000;

export const webAddress = () =>
  string()
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
    .test('sign-in', s.noSignIn('They have fields of their own, where they are kept sealed.'))
    .meta({ description: 'The address to look at; http or https.' });

const USUAL_STATUS = '200-299';

export const statusRanges = () =>
  string()
    .default(USUAL_STATUS)
    .transform((value: unknown) => (typeof value === 'string' && value.trim() === '' ? USUAL_STATUS : value))
    .max(200)
    .test(
      'status-ranges',
      ({ value }) => `Expected status codes such as "200-299, 401", got "${String(value)}".`,
      (value) => parseStatusRanges(value ?? '') !== null,
    )
    .meta({ description: 'Status codes that count as fine, such as "200-299, 401".' });

const proxyProblem = (value: string) => {
  if (URL.canParse(value) && new URL(value).protocol === 'http:') {
    return signInProblem(value, 'They have fields of their own below.');
  }
  return `Expected the address of an HTTP proxy such as http://proxy.ternferry.test:3128, got “${value}”.`;
};

const schema = object({
  address: webAddress(),
  words: s.text('These words must be on the page; empty for no such test.'),
  accepted: statusRanges(),
  method: s.oneOf('The HTTP method.', METHODS, 'GET'),
  headers: s.textThat('Headers to send, one “Name: value” a line.', headerLinesProblem, 8000),
  secretHeaders: s.secret('Headers to send that let somebody in, one “Name: value” a line.'),
  body: s.text('The body to send.', 100_000),
  user: s.text('The name for basic sign-in.'),
  password: s.secret('The password for basic sign-in.'),
  bearer: s.secret('The token for bearer sign-in.'),
  redirects: s.oneOf('What a redirect means.', ['follow', 'refuse', 'lead to'] as const, 'follow'),
  leadTo: s.text('Where redirects must lead in the end; the beginning of the address.', 2000),
  anyCase: s.flag('Capitals do not matter for the words that must be there.'),
  unwantedAnyCase: s.flag('Capitals do not matter for the words that must not be there.'),
  unwanted: s.text('Words that must not be on the page, one line each.', 4000),
  pattern: s.pattern('A pattern that must match something on the page.'),
  headerTests: s.headerTests(),
  jsonTests: s.jsonTests(),
  smallestBytes: s.optionalNumber('The least size of the reply in bytes.', 0, MOST_BYTES),
  largestBytes: s.optionalNumber('The largestBytes size of the reply in bytes.', 0, MOST_BYTES),
  soonDays: s.someNumber('Days before its end from which the certificate is a matter of soon.', 0, 365, 21),
  urgentDays: s.someNumber('Days before its end from which it is a matter of now.', 0, 365, 5),
  connectTo: s.textThat('Connects here instead; “host” or “host:port”.', (value) =>
    connectToOf(value) ? null : `Expected a host or host:port such as 192.0.2.7:8443, got “${value}”.`,
  ),
  family: s.oneOf('Addresses of this family only.', ['any', '4', '6'] as const, 'any'),
  proxy: s.textThat('An outgoing HTTP proxy.', proxyProblem),
  proxyUser: s.text('The name to sign in to the proxy with.'),
  proxyPassword: s.secret('The password for the proxy.'),
  authority: s.pem('An authority to trust besides those of this machine (PEM).'),
  clientCertificate: s.pem('The certificate to show to the server (PEM).'),
  clientKey: s.secret('The key of that certificate (PEM).'),
  skipVerify: s.flag('Does not check the certificate.'),
});

function judgeText(run: Run, settings: WebSettings, page: PageText): void {
  expectWords(run, page, settings.words, settings.anyCase);
  for (const unwanted of settings.unwanted.split('\n').map((line) => line.trim())) {
    if (unwanted !== '' && countWords(page.text, unwanted, settings.unwantedAnyCase) > 0) {
      run.fail('text.unwanted', { words: unwanted });
    }
  }
  const { pattern } = settings;
  if (pattern === '') return;
  const wanted = Pattern.of(pattern);
  if (!wanted.isIn(page.text)) {
    const searched = { ...page, cut: page.cut || page.text.length > wanted.reach };
    failMissing(run, searched, `A match of ${pattern}`, 'text.no-match', { pattern });
  }
}

/** Parses an answer as JSON and tests the values at its paths: all of them where nothing else is said. */
function judgeJson(run: Run, page: PageText, tests: readonly s.ValueTest[]): void {
  if (tests.length === 0) return;
  const document = pageJson(run, page);
  for (const { what, comparison, value, many = 'all' } of tests) {
    const values = valuesIn(run, what, document);
    if (values.length === 0 && comparison !== 'is not there') run.fail('value.none', { what });
    if (compareMany(values, comparison, value, many)) continue;
    // Of several, one that does not hold says more than the first.
    const wrong = values.findIndex((got) => !compare(got, comparison, value));
    const at = wrong < 0 ? 0 : wrong;
    const got = JSON.stringify(values[at] ?? null).slice(0, 120);
    const which = values.length > 1 ? `${what} (${at + 1} of ${values.length})` : what;
    const expected = `${expectedText(comparison, value)}${values.length > 1 ? ` for ${many} of them` : ''}`;
    run.fail('value.differs', { what: which, got, expected });
  }
}

/** Throws a `LookFailure` when the complete reply does not pass. */
function judge(run: Run, settings: WebSettings, { url, hop }: Fetched): void {
  const status = hop.status ?? 0;
  if (settings.redirects === 'lead to' && !url.href.startsWith(settings.leadTo)) {
    run.fail('reply.redirect-elsewhere', { location: url.href.slice(0, 200), expected: settings.leadTo });
  }
  expectStatus(run, settings.accepted, status);
  for (const { what, comparison, value } of settings.headerTests) {
    const got = hop.headers?.[what.toLowerCase()];
    const text = Array.isArray(got) ? got.join(', ') : got;
    if (compare(text, comparison, value)) continue;
    const shown = text === undefined ? 'not there' : `“${text.slice(0, 120)}”`;
    run.fail('reply.header', { header: what, got: shown, expected: expectedText(comparison, value) });
  }
  const { smallestBytes, largestBytes } = settings;
  if (smallestBytes !== null && hop.bytes < smallestBytes) {
    run.fail('reply.too-small', { size: formatBytes(hop.bytes), limit: formatBytes(smallestBytes) });
  }
  if (largestBytes !== null && hop.bytes > largestBytes)
    run.fail('reply.too-large', { limit: formatBytes(largestBytes) });
  if (!hasContentTest(settings)) return;
  const page = pageTextOf(hop);
  judgeText(run, settings, page);
  judgeJson(run, page, settings.jsonTests);
}

function proxyOf({ proxy, proxyUser, proxyPassword }: WebSettings): URL | undefined {
  if (proxy === '') return undefined;
  const url = new URL(proxy);
  if (proxyUser !== '') url.username = encodeURIComponent(proxyUser);
  if (proxyPassword !== '') url.password = encodeURIComponent(proxyPassword);
  return url;
}

/** How the page is asked for. */
export function wishOf(settings: WebSettings): HopWish {
  const { user, password, bearer, largestBytes } = settings;
  const signIn = bearer
    ? `Bearer ${bearer}`
    : user !== '' || password !== ''
      ? `Basic ${Buffer.from(`${user}:${password}`).toString('base64')}`
      : '';
  return {
    method: settings.method,
    headers: headersOf(settings.headers),
    privateHeaders: { ...headersOf(settings.secretHeaders), ...(signIn && { authorization: signIn }) },
    body: settings.body,
    family: settings.family === 'any' ? undefined : settings.family === '4' ? 4 : 6,
    connectTo: connectToOf(settings.connectTo) ?? undefined,
    proxy: proxyOf(settings),
    authority: settings.authority,
    clientCertificate: settings.clientCertificate,
    clientKey: settings.clientKey,
    skipVerify: settings.skipVerify,
    checks: {
      soonDays: settings.soonDays,
      urgentDays: settings.urgentDays,
      leastProtocol: USUAL_CHECKS.leastProtocol,
    },
    readBytes: largestBytes === null ? undefined : largestBytes + 1,
  };
}

function hasContentTest(settings: WebSettings): boolean {
  const { words, unwanted, pattern, jsonTests } = settings;
  return words.trim() !== '' || unwanted.trim() !== '' || pattern !== '' || jsonTests.length > 0;
}

function rungsFor(url: URL, status: number | undefined, settings: WebSettings): PlannedRung[] {
  const rungs: PlannedRung[] = [
    ['name', 'name'],
    ['port', `port ${connectToOf(settings.connectTo)?.port ?? portOf(url)}`],
  ];
  if (url.protocol === 'https:') rungs.push(['certificate', 'certificate']);
  rungs.push(['reply', status ? `reply ${status}` : 'reply']);
  if (hasContentTest(settings)) rungs.push(['content', settings.jsonTests.length > 0 ? 'content' : 'words']);
  return rungs;
}

interface Plan {
  settings: WebSettings;
  url: URL;
  wish: HopWish;
  secrets: string[];
}

const plans = new WeakMap<WebSettings, Plan>();

/** What every look with the same settings begins with, worked out once. */
function planOf(given: WebSettings): Plan {
  const known = plans.get(given);
  if (known) return known;
  const settings = { ...web.defaults, ...given };
  const url = new URL(settings.address);
  const { password, bearer, proxyPassword, secretHeaders } = settings;
  const secrets = [password, bearer, proxyPassword, ...Object.values(headersOf(secretHeaders))];
  const plan = { settings, url, wish: wishOf(settings), secrets };
  plans.set(given, plan);
  return plan;
}

/** Looks at a web page once: at most ten redirects, each over a new connection, within one time limit. */
async function look(given: WebSettings, context: LookContext): Promise<Finding> {
  const { settings, url, wish, secrets } = planOf(given);
  const fetched: Fetched = { url, hop: newHop() };
  const target = { host: hostOf(url), port: portOf(url), timeoutMs: context.timeoutMs };
  return carryOut(
    context,
    target,
    () => rungsFor(fetched.url, fetched.hop.status, settings),
    async (run) => {
      run.evidence.redirects = 0;
      let passed = false;
      try {
        await fetchPage(run, url, wish, settings.redirects === 'refuse' ? 'refuse' : 'follow', fetched);
        judge(run, settings, fetched);
        passed = true;
      } finally {
        noteReply(run, fetched);
        if (!passed) keepExcerpt(run, fetched.hop, secrets);
      }
    },
  );
}

export const web: ProbeKind<WebSettings> = {
  id: 'web',
  title: 'web page',
  help: 'Fetches a page and checks its reply, its certificate and its words.',
  ...checkedBy<WebSettings>(schema),
  fields: webFields,
  hostOf: (settings) => new URL(settings.address).hostname,
  targetOf: (settings) => settings.address,
  nameOf: (settings) => {
    const url = new URL(settings.address);
    return url.pathname === '/' ? url.hostname : `${url.hostname}${url.pathname}`.slice(0, 80);
  },
  walkTo: (given) => {
    const settings = { ...web.defaults, ...given };
    const url = new URL(settings.address);
    const instead = connectToOf(settings.connectTo);
    const tls = url.protocol === 'https:';
    if (settings.proxy)
      return { host: hostOf(new URL(settings.proxy)), port: portOf(new URL(settings.proxy)) };
    return {
      host: instead?.host ?? hostOf(url),
      port: instead?.port ?? portOf(url),
      tls,
      servername: hostOf(url),
    };
  },
  verdictSentence: (settings, timeoutMs) =>
    `Fails when there is no complete reply within ${formatDuration(timeoutMs)}, when the status is not ` +
    `${settings.accepted}${settings.address.startsWith('https') && !settings.skipVerify ? ', when the certificate is not valid' : ''}` +
    `${settings.words.trim() ? `, or when the words “${settings.words.trim()}” are missing` : ''}` +
    `${hasContentTest({ ...web.defaults, ...settings, words: '' }) ? ', or when another test of its content fails' : ''}.`,
  look,
};
