import { request, type Dispatcher } from 'undici';
import { string } from 'yup';
import { retryAfterMs } from '@/core/messages/routing';
import { Blanker } from '@/core/text/secret-forms';
import { limitTime } from '@/outside/limit';
import { OutsideError, readBounded } from '@/outside/read';
import type { Answer } from '@/channels/frame/kind';

const MOST_ANSWER = 300;
/** More of an answer is not read: a line of it is shown. */
const MOST_READ_BYTES = 64_000;
const TIMEOUT_MS = 15_000;

export function isWebAddress(value: string | undefined): boolean {
  try {
    return ['http:', 'https:'].includes(new URL(value ?? '').protocol);
  } catch {
    return false;
  }
}

function hasSignIn(value: string): boolean {
  if (!URL.canParse(value)) return false;
  const { username, password } = new URL(value);
  return username !== '' || password !== '';
}

/** An address that something is posted to; it is a key to what takes it. */
export function webAddress(missing: string, signIn = 'Expected an address without a name and password.') {
  return string()
    .trim()
    .required(missing)
    .max(2000)
    .test(
      'web-address',
      ({ value }) => `Expected an address that begins with http:// or https://, got "${String(value)}".`,
      isWebAddress,
    )
    .test('sign-in', signIn, (value) => !hasSignIn(value ?? ''));
}

/** The beginning of what the other side answers, however long it goes on. */
async function beginningOf(body: AsyncIterable<Uint8Array>, signal: AbortSignal): Promise<string> {
  try {
    const bounds = { mostBytes: MOST_READ_BYTES, withinMs: TIMEOUT_MS, signal };
    return (await readBounded(body, bounds)).toString('utf8');
  } catch (error) {
    // The status has come; how the answer goes on changes nothing.
    if (error instanceof OutsideError) return error.begun.toString('utf8');
    throw error;
  }
}

export const JSON_HEADERS = { 'content-type': 'application/json; charset=utf-8' } as const;

export interface Called {
  address: string;
  method?: 'GET' | 'POST' | 'PUT' | 'PATCH';
  headers: Record<string, string>;
  body?: string | Uint8Array;
  /** By what it goes; left out, by whatever leads there. */
  by?: Dispatcher;
  /** What must not stand in what is shown of the answer. */
  secrets: readonly string[];
}

/** The other side's answer with what it is made of; no status where nothing came. */
export interface Reply extends Answer {
  status: number | null;
  /** The beginning of the body, as it came: it may hold secrets. */
  text: string;
}

/** Calls an address and says what the other side made of it; redirects are not followed. */
export async function callJson(
  { address, method = 'POST', headers, body, by, secrets }: Called,
  signal: AbortSignal,
): Promise<Reply> {
  const limit = limitTime(TIMEOUT_MS, signal);
  const blanker = new Blanker(secrets.filter((secret) => secret !== ''));
  try {
    const {
      statusCode: status,
      headers: said,
      body: answer,
    } = await request(address, {
      method,
      headers: { 'user-agent': 'CalmLantern', ...headers },
      ...(body !== undefined && { body }),
      ...(by && { dispatcher: by }),
      signal: limit.signal,
    });
    const text = await beginningOf(answer, limit.signal);
    const line = blanker.text(text).replace(/\s+/g, ' ').trim().slice(0, MOST_ANSWER);
    const asked = retryAfterMs(String(said['retry-after'] ?? ''), Date.now());
    return {
      ...(asked !== null && { retryAfterMs: asked }),
      status,
      text,
      ok: status >= 200 && status < 300,
      retry: status >= 500 || status === 429 || status === 408,
      said: line === '' ? String(status) : `${status} ${line}`,
    };
  } catch (error) {
    // Of an abort it is a number that says nothing.
    const { code, message } = error as { code?: unknown; message: string };
    const why = typeof code === 'string' ? code : message;
    const reason = limit.isOver ? `no answer within ${TIMEOUT_MS / 1000} s` : why;
    return { status: null, text: '', ok: false, retry: true, said: `No connection: ${blanker.text(reason)}` };
  } finally {
    limit.release();
  }
}

/** The answer as it is shown: without what it is made of. */
export function answerOnly({ status: _, text: __, ...answer }: Reply): Answer {
  return answer;
}

/** A body read as a JSON object; an empty one where it is none. */
export function readJson(text: string): object {
  // Most answers are a word; that they are no JSON need not be thrown and caught.
  if (!/^\s*\{/.test(text)) return {};
  try {
    const value: unknown = JSON.parse(text);
    return typeof value === 'object' && value !== null && !Array.isArray(value) ? value : {};
  } catch {
    return {};
  }
}
