import { object, string } from 'yup';
import { messageAsPlainText } from '../core/message';
import type { Answer, ChannelKind } from './kind';

export interface WebhookSettings {
  address: string;
}

const MOST_ANSWER = 300;
const TIMEOUT_MS = 15_000;

function isWebAddress(value: string | undefined): boolean {
  try {
    return ['http:', 'https:'].includes(new URL(value ?? '').protocol);
  } catch {
    return false;
  }
}

/** POSTs {"text": …} as JSON to an incoming-webhook address. */
async function send(
  settings: WebhookSettings,
  message: Parameters<ChannelKind<WebhookSettings>['send']>[1],
  signal: AbortSignal,
): Promise<Answer> {
  try {
    const reply = await fetch(settings.address, {
      method: 'POST',
      headers: { 'content-type': 'application/json; charset=utf-8', 'user-agent': 'CalmLantern' },
      body: JSON.stringify({ text: messageAsPlainText(message) }),
      signal: AbortSignal.any([signal, AbortSignal.timeout(TIMEOUT_MS)]),
      redirect: 'manual',
    });
    const body = (await reply.text()).replace(/\s+/g, ' ').trim().slice(0, MOST_ANSWER);
    return {
      ok: reply.status >= 200 && reply.status < 300,
      retry: reply.status >= 500 || reply.status === 429 || reply.status === 408,
      said: body === '' ? String(reply.status) : `${reply.status} ${body}`,
    };
  } catch (error) {
    const cause = (error as { cause?: NodeJS.ErrnoException }).cause;
    const reason =
      (error as Error).name === 'TimeoutError'
        ? `no answer within ${TIMEOUT_MS / 1000} s`
        : (cause?.code ?? (error as Error).message);
    return { ok: false, retry: true, said: `No connection: ${reason}` };
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
      .meta({ description: 'The incoming-webhook address of the room. It is a secret.' }),
  }),
  fields: [
    {
      name: 'address',
      label: 'Webhook address',
      help: 'Your chat room shows it where incoming webhooks are set up. It is kept secret and not shown again.',
      placeholder: 'https://chat.ternferry.test/hooks/…',
    },
  ],
  shown: (settings) => `${new URL(settings.address).origin}/…`,
  send,
};
