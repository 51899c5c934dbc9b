// Long. One kind, one file: its settings, checks, look and words.
import * as f from '@/core/settings/fields';
import { object, string } from 'yup';
import { decodeHTML } from 'entities';
import { CookieJar } from 'tough-cookie';
import { formatDuration } from '@/core/time/duration';
import type { StepTaken } from '@/core/causes/finding';
import { jsonPathProblem } from '@/core/expect/json-path';
import { Pattern, patternProblem } from '@/core/expect/pattern';
import { normaliseWebAddress, signInProblem } from '@/probes/frame/address';
import {
  expectStatus,
  expectWords,
  pageJson,
  pageTextOf,
  valuesIn,
  type PageText,
} from '@/probes/transport/answer';
import { USUAL_CHECKS } from '@/probes/transport/certificate-facts';
import { hostOf, newHop, portOf, type Hop } from '@/probes/transport/http-hop';
import { checkedBy, type LookContext, type ProbeKind } from '@/probes/frame/kind';
import { carryOut, certificateRung, type Run } from '@/probes/frame/run';
import * as s from '@/probes/fields/schema';
import {
  fetchPage,
  headersForOthers,
  isSameSite,
  keepExcerpt,
  noteReply,
  type Fetched,
} from '@/probes/transport/web-request';
import { headerLinesProblem, headersOf } from '@/core/settings/header-lines';
import { METHODS, statusRanges } from './web';

interface Step {
  name: string;
  method: (typeof METHODS)[number];
  address: string;
  headers: string;
  body: string;
  accepted: string;
  words: string;
  take: string;
}

interface JourneySettings {
  steps: Step[];
  secrets: string;
}

const MOST_STEPS = 20;

/** "name = $.path", "name = /pattern/" or "name = header location", one a line. */
interface Taking {
  name: string;
  way: 'path' | 'pattern' | 'header';
  what: string;
}

function takingsOf(lines: string): (Taking | string)[] {
  return lines
    .split('\n')
    .map((line) => line.trim())
    .filter(Boolean)
    .map((line) => {
      const match = /^([a-z]\w*)\s*=\s*(.+)$/i.exec(line);
      const hint =
        'Expected a line such as token = $.token, token = /value="([^"]+)"/ or place = header location';
      if (!match) return `${hint}, got “${line.slice(0, 80)}”.`;
      const [, name, what] = match as unknown as [string, string, string];
      if (what.startsWith('$')) return jsonPathProblem(what) ?? { name, way: 'path', what };
      const pattern = /^\/(.+)\/$/.exec(what)?.[1];
      if (pattern) return patternProblem(pattern) ?? { name, way: 'pattern', what: pattern };
      const header = /^header\s+([\w-]+)$/i.exec(what)?.[1];
      return header
        ? { name, way: 'header', what: header.toLowerCase() }
        : `${hint}, got “${line.slice(0, 80)}”.`;
    });
}

function takeProblem(lines: string): string | null {
  return (takingsOf(lines).find((taking) => typeof taking === 'string') as string | undefined) ?? null;
}

/** Addresses may hold {{names}} of values that are only known on the way. */
function addressProblem(value: string): string | null {
  const filled = value.replace(/\{\{\s*\w+\s*\}\}/g, 'x1');
  const hint = 'Put the password into the secret values and {{its name}} into the address.';
  const wrong = filled.includes(':x1@') ? null : signInProblem(normaliseWebAddress(filled) ?? '', hint);
  if (wrong) return wrong;
  return filled.startsWith('x1') || normaliseWebAddress(filled) !== null || filled.startsWith('/')
    ? null
    : `Expected a web address, or a path on the site of the step before, got “${value}”.`;
}

function secretsOf(lines: string): Map<string, string> {
  const secrets = new Map<string, string>();
  for (const line of lines.split('\n')) {
    const match = /^\s*([a-z]\w*)\s*=\s*(.*?)\s*$/i.exec(line);
    if (match) secrets.set(match[1]!, match[2]!);
  }
  return secrets;
}

const schema = object({
  steps: s
    .rows(
      'The steps in order.',
      {
        name: s.text('What the step is called.', 80),
        method: s.oneOf('The HTTP method.', METHODS, 'GET'),
        address: string()
          .trim()
          .default('')
          .max(2000)
          .test('address', function check(value) {
            const wrong = value ? addressProblem(value) : 'Expected a web address, got nothing.';
            return wrong === null || this.createError({ message: wrong });
          })
          .meta({ description: 'The address; {{name}} stands for a value taken before.' }),
        headers: s.textThat('Headers to send, one “Name: value” a line.', headerLinesProblem, 8000),
        body: s.text('The body to send.', 100_000),
        accepted: statusRanges(),
        words: s.text('Words that must be in the answer.'),
        take: s.textThat('Values to take from the answer, one a line.', takeProblem),
      },
      MOST_STEPS,
    )
    .min(1, 'Expected at least one step, got none.'),
  secrets: s.secret('Values such as passwords, one “name = value” a line, used as {{name}}.'),
});

interface Travel {
  run: Run;
  values: Map<string, string>;
  secrets: string[];
  jar: CookieJar;
  /** What a path in the next step goes on from: never a site no step has named. */
  at: URL | null;
}

function fill({ run, values }: Travel, text: string, escape: (value: string) => string = (v) => v): string {
  return text.replace(/\{\{\s*(\w+)\s*\}\}/g, (_, name: string) => {
    const value = values.get(name);
    return value === undefined ? run.fail('value.none', { what: `{{${name}}}` }) : escape(value);
  });
}

function takeFrom(travel: Travel, step: Step, hop: Hop, page: PageText): void {
  let document: unknown;
  for (const taking of takingsOf(step.take) as Taking[]) {
    let value: unknown;
    if (taking.way === 'header') value = hop.headers?.[taking.what];
    else if (taking.way === 'pattern') {
      const found = Pattern.of(taking.what).firstIn(page.text);
      // What stands in a page is written for it: &amp; means &.
      const html = /html|xml/i.test(hop.headers?.['content-type'] ?? '');
      value = found === null ? undefined : html ? decodeHTML(found) : found;
    } else {
      document ??= pageJson(travel.run, page);
      value = valuesIn(travel.run, taking.what, document)[0];
    }
    if (value === undefined) travel.run.fail('value.none', { what: taking.what });
    const taken = typeof value === 'string' ? value : JSON.stringify(value);
    travel.values.set(taking.name, taken);
    // What was taken is often a token.
    travel.secrets.push(taken);
  }
}

async function takeStep(travel: Travel, step: Step, fetched: Fetched): Promise<void> {
  const { run, jar } = travel;
  const typed = fill(travel, step.address);
  const url =
    travel.at && typed.startsWith('/')
      ? new URL(typed, travel.at)
      : new URL(normaliseWebAddress(typed) ?? typed);
  const headers = headersOf(fill(travel, step.headers));
  const json = /json/i.test(headers['content-type'] ?? '');
  // A body without a type is a form, as a browser would send it.
  const form = !json && step.body !== '' && /^$|x-www-form-urlencoded/i.test(headers['content-type'] ?? '');
  if (form) headers['content-type'] ??= 'application/x-www-form-urlencoded';
  const escape = json
    ? (value: string) => JSON.stringify(value).slice(1, -1)
    : form
      ? (value: string) => encodeURIComponent(value).replaceAll('%20', '+')
      : undefined;
  const wishFor = (to: URL, same: boolean) => {
    const cookie = jar.getCookieStringSync(to.href);
    return {
      method: step.method,
      headers: { ...(same ? headers : headersForOthers(headers)), ...(cookie && { cookie }) },
      body: fill(travel, step.body, escape),
      checks: USUAL_CHECKS,
    };
  };
  await fetchPage(run, url, wishFor(url, true), 'follow', fetched, {
    wishFor,
    onReply: (at, hop) => {
      for (const cookie of hop.headers?.['set-cookie'] ?? [])
        jar.setCookieSync(cookie, at.href, { ignoreError: true });
    },
  });
  // A redirect may lead to a site that nothing of the next steps was meant for.
  travel.at = isSameSite(url, fetched.url) ? fetched.url : url;
  const { hop } = fetched;
  expectStatus(run, step.accepted, hop.status ?? 0);
  const page = pageTextOf(hop);
  expectWords(run, page, step.words, false);
  takeFrom(travel, step, hop, page);
}

function speaksTls(address: string): boolean {
  return normaliseWebAddress(address)?.startsWith('https:') ?? false;
}

function nameOfStep(step: Step, i: number): string {
  return step.name || `Step ${i + 1}`;
}

function look(given: JourneySettings, context: LookContext) {
  const settings = { ...journey.defaults, ...given };
  const taken: StepTaken[] = [];
  const first = new URL(normaliseWebAddress(settings.steps[0]!.address) ?? 'http://localhost/');
  return carryOut(
    context,
    { host: hostOf(first), port: portOf(first), timeoutMs: context.timeoutMs },
    () => [
      ['name', 'name'],
      ['port', 'port'],
      ...certificateRung(settings.steps.some((step) => speaksTls(step.address))),
      ['reply', 'reply'],
      ['content', 'content'],
    ],
    async (run) => {
      const values = secretsOf(settings.secrets);
      const travel: Travel = { run, values, secrets: [...values.values()], jar: new CookieJar(), at: null };
      run.evidence.steps = taken;
      for (const [i, step] of settings.steps.entries()) {
        const began = run.ms;
        const fetched: Fetched = { url: first, hop: newHop() };
        const at: StepTaken = { name: nameOfStep(step, i), ms: 0, result: 'failed' };
        const ahead = settings.steps.slice(i + 1);
        taken.push(
          at,
          ...ahead.map((later, j) => ({
            name: nameOfStep(later, i + 1 + j),
            ms: 0,
            result: 'not-reached' as const,
          })),
        );
        run.at = `Step ${i + 1}${step.name ? `, “${step.name}”` : ''}`;
        try {
          await takeStep(travel, step, fetched);
          at.result = 'fine';
          taken.length = i + 1;
        } catch (error) {
          keepExcerpt(run, fetched.hop, travel.secrets);
          throw error;
        } finally {
          at.ms = run.ms - began;
          at.status = fetched.hop.status;
          noteReply(run, fetched);
        }
      }
    },
  );
}

export const journey: ProbeKind<JourneySettings> = {
  id: 'journey',
  title: 'journey',
  help: 'Walks through up to 20 steps as a visitor would: signs in, searches, books. Cookies and values go along.',
  ...checkedBy<JourneySettings>(schema),
  every: 300,
  fields: [
    f.rows(
      'steps',
      'Steps',
      '{{name}} stands for a value taken in a step before. Take values as “token = $.token”, “token = /value="([^"]+)"/” or “place = header location”, one a line.',
      {
        ordered: true,
        columns: [
          { name: 'name', label: 'Name', control: 'text', placeholder: 'Sign in' },
          { name: 'method', label: 'Method', control: 'select', options: METHODS },
          {
            name: 'address',
            label: 'Address',
            control: 'text',
            placeholder: 'booking.ternferry.test/sign-in',
          },
          { name: 'headers', label: 'Headers', control: 'textarea' },
          { name: 'body', label: 'Body', control: 'textarea' },
          { name: 'accepted', label: 'Fine status codes', control: 'text', placeholder: '200-299' },
          { name: 'words', label: 'Words that must be there', control: 'text' },
          { name: 'take', label: 'Values to take', control: 'textarea', placeholder: 'token = $.token' },
        ],
      },
    ),
    f.secretArea(
      'secrets',
      'Secret values',
      'One “name = value” a line, such as “password = …”, used as {{password}}. Kept sealed and not shown again.',
    ),
  ],
  hostOf: ({ steps }) => {
    const address = normaliseWebAddress(steps[0]?.address ?? '');
    return address ? new URL(address).hostname : '';
  },
  targetOf: ({ steps }) =>
    `${steps.length} ${steps.length === 1 ? 'step' : 'steps'} from ${steps[0]?.address ?? ''}`,
  nameOf: (settings) => `Journey through ${journey.hostOf(settings)}`,
  walkTo: ({ steps }) => {
    const address = normaliseWebAddress(steps[0]?.address ?? '');
    if (!address) return null;
    const url = new URL(address);
    return { host: hostOf(url), port: portOf(url), tls: url.protocol === 'https:', servername: hostOf(url) };
  },
  verdictSentence: ({ steps }, timeoutMs) =>
    `Fails when one of ${steps.length} ${steps.length === 1 ? 'step' : 'steps'} does not pass, or all of them together take more than ${formatDuration(timeoutMs)}.`,
  look,
};
