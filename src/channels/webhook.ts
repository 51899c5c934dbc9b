import * as f from '@/core/settings/fields';
import { object, string } from 'yup';
import { messageAsPlainText } from '@/core/messages/message';
import { Blanker } from '@/core/text/secret-forms';
import { limitTime } from '@/outside/limit';
import { OutsideError, readBounded } from '@/outside/read';
import type { Answer, ChannelKind } from './kind';

export interface WebhookSettings {
  address: string;
  user?: string;
  password?: string;
}

const MOST_ANSWER = 300;
/** More of an answer is not read: a line of it is shown. */
const MOST_READ_BYTES = 64_000;
const TIMEOUT_MS = 15_000;

function isWebAddress(value: string | undefined): boolean {
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

function headersFor({ user = '', password = '' }: WebhookSettings): Record<string, string> {
  const signIn = user !== '' || password !== '';
  return {
    'content-type': 'application/json; charset=utf-8',
    'user-agent': 'CalmLantern',
    ...(signIn && { authorization: `Basic ${Buffer.from(`${user}:${password}`).toString('base64')}` }),
  };
}

/** The beginning of what the other side answers, however long it goes on. */
async function beginningOf(body: ReadableStream<Uint8Array> | null, signal: AbortSignal): Promise<string> {
  try {
    const bounds = { mostBytes: MOST_READ_BYTES, withinMs: TIMEOUT_MS, signal };
    return (await readBounded(body, bounds)).toString('utf8');
  } catch (error) {
    // The status has come; how the answer goes on changes nothing.
    if (error instanceof OutsideError) return error.begun.toString('utf8');
    throw error;
  }
}

/** POSTs {"text": …} as JSON to an incoming-webhook address. */
async function send(
  settings: WebhookSettings,
  message: Parameters<ChannelKind<WebhookSettings>['send']>[1],
  signal: AbortSignal,
): Promise<Answer> {
  const limit = limitTime(TIMEOUT_MS, signal);
  const blanker = new Blanker([settings.address, settings.password ?? '']);
  try {
    const reply = await fetch(settings.address, {
      method: 'POST',
      headers: headersFor(settings),
      body: JSON.stringify({ text: messageAsPlainText(message) }),
      signal: limit.signal,
      redirect: 'manual',
    });
    const body = blanker.text(await beginningOf(reply.body as never, limit.signal));
    const said = body.replace(/\s+/g, ' ').trim().slice(0, MOST_ANSWER);
    return {
      ok: reply.status >= 200 && reply.status < 300,
      retry: reply.status >= 500 || reply.status === 429 || reply.status === 408,
      said: said === '' ? String(reply.status) : `${reply.status} ${said}`,
    };
  } catch (error) {
    const cause = (error as { cause?: NodeJS.ErrnoException }).cause;
    const reason = limit.isOver
      ? `no answer within ${TIMEOUT_MS / 1000} s`
      : (cause?.code ?? cause?.message ?? (error as Error).message);
    return { ok: false, retry: true, said: `No connection: ${reason}` };
  } finally {
    limit.release();
  }
}

export const webhook: ChannelKind<WebhookSettings> = {
  id: 'webhook',
  title: 'chat webhook',
  help: 'Any chat room that takes {"text": …} at an incoming-webhook address.',
  schema: object({
    address: string()
      .trim()
      .required('Expected the webhook address of the room, got nothing.')
      .max(2000)
      .test(
        'web-address',
        ({ value }) => `Expected an address that begins with http:// or https://, got "${String(value)}".`,
        isWebAddress,
      )
      .test(
        'sign-in',
        'Expected an address without a name and password; they have fields of their own below, where they are kept sealed.',
        (value) => !hasSignIn(value ?? ''),
      )
      .meta({ description: 'The incoming-webhook address of the room. It is a secret.' }),
    user: string()
      .trim()
      .default('')
      .max(200)
      .meta({ description: 'The name for basic sign-in, if asked for.' }),
    password: string().default('').max(500).meta({ description: 'The password for basic sign-in.' }),
  }),
  fields: [
    f.text(
      'address',
      'Webhook address',
      'Your chat room shows it where incoming webhooks are set up. It is kept secret and not shown again.',
      { placeholder: 'https://chat.ternferry.test/hooks/…' },
    ),
    f.text('user', 'User for sign-in', 'Only where the address asks for one (basic sign-in).'),
    f.secret('password', 'Password', 'Kept secret and not shown again.'),
  ],
  shown: (settings) => `${new URL(settings.address).origin}/…`,
  send,
};
