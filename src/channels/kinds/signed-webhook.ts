import { createHmac } from 'node:crypto';
import { object, string } from 'yup';
import { MOST_TEMPLATE, TemplateError } from '@/core/messages/sandbox';
import * as f from '@/core/settings/fields';
import { headerLinesProblem, headersOf } from '@/core/settings/header-lines';
import { answerOnly, callJson, webAddress } from '@/channels/transport/call-json';
import { template } from '@/channels/frame/fields';
import { cloudEventOf } from '@/channels/frame/cloud-event';
import { BODY_VALUES, templateBody } from '@/channels/frame/template-body';
import type { Answer, ChannelKind, Outgoing } from '@/channels/frame/kind';

export interface SignedWebhookSettings {
  address: string;
  secret: string;
  method?: Method;
  /** Lines of "Name: value". */
  headers?: string;
  /** What is posted in the place of an event (Liquid); empty for the event. */
  template?: string;
}

const METHODS = ['POST', 'PUT', 'PATCH'] as const;
type Method = (typeof METHODS)[number];

const EXTRA = 'A body of your own';

/** What the connection sets by itself. */
const NOT_OURS = ['host', 'content-length', 'transfer-encoding', 'connection', 'expect', 'upgrade'];

function headersProblem(lines: string): string | null {
  const name = Object.keys(headersOf(lines)).find((one) => NOT_OURS.includes(one));
  return name === undefined ? headerLinesProblem(lines) : `Expected no ${name}: that header is set here.`;
}

const PREFIX = 'whsec_';
/** 24 to 64 bytes, as base64 (Standard Webhooks, "Signature scheme"). */
const SECRET = /^(?:whsec_)?[A-Za-z0-9+/]{32,86}={0,2}$/;

/** The signature of a body (Standard Webhooks): HMAC-SHA256 over id, time and body. */
function signature(secret: string, id: string, seconds: number, body: string): string {
  const key = Buffer.from(secret.startsWith(PREFIX) ? secret.slice(PREFIX.length) : secret, 'base64');
  return `v1,${createHmac('sha256', key).update(`${id}.${seconds}.${body}`).digest('base64')}`;
}

/** What goes along with an event (Standard Webhooks): by what it is known, when it was sent, and that it was us. */
export function signedEvent(secret: string, id: string, body: string): Record<string, string> {
  const seconds = Math.floor(Date.now() / 1000);
  return {
    'webhook-id': id,
    'webhook-timestamp': String(seconds),
    ...(secret !== '' && { 'webhook-signature': signature(secret, id, seconds, body) }),
  };
}

/** What is posted, and what it is (RFC 9110, section 8.3); what a template says is JSON where it begins like it. */
function bodyOf(template: string, message: Outgoing): { body: string; type: string } {
  if (template === '') {
    const body = JSON.stringify(cloudEventOf(message));
    return { body, type: 'application/cloudevents+json; charset=utf-8' };
  }
  const body = templateBody(template, message);
  const isJson = /^\s*[[{]/.test(body);
  return { body, type: `${isJson ? 'application/json' : 'text/plain'}; charset=utf-8` };
}

async function send(
  { address, secret, method = 'POST', headers: lines = '', template = '' }: SignedWebhookSettings,
  message: Outgoing,
  signal: AbortSignal,
): Promise<Answer> {
  const own = headersOf(lines);
  let made: ReturnType<typeof bodyOf>;
  try {
    made = bodyOf(template, message);
  } catch (error) {
    if (!(error instanceof TemplateError)) throw error;
    return { ok: false, retry: false, said: `Its body cannot be filled in: ${error.message}` };
  }
  const { body, type } = made;
  const headers = {
    'content-type': type,
    ...own,
    // A body of one's own may say nothing of it.
    ...(message.drill && { 'lantern-drill': 'true' }),
    ...signedEvent(secret, message.id, body),
  };
  const reply = await callJson(
    { address, method, headers, body, secrets: [address, secret, ...Object.values(own)] },
    signal,
  );
  const answer = answerOnly(reply);
  if (reply.status !== 410) return answer;
  return { ...answer, gone: true, said: `${answer.said} (gone: nothing is sent there any more)` };
}

export const signedWebhook: ChannelKind<SignedWebhookSettings> = {
  id: 'event',
  title: 'webhook for programs',
  help: 'Each message as an event (CloudEvents 1.0) or as a body of your own, signed as the Standard Webhooks specification says.',
  schema: object({
    address: webAddress('Expected the address events are posted to, got nothing.').meta({
      description: 'Where events are posted to.',
    }),
    secret: string()
      .trim()
      .default('')
      .test(
        'secret',
        'Expected a secret of 24 to 64 bytes as base64, such as one that begins with whsec_.',
        (value) => !value || SECRET.test(value),
      )
      .meta({ description: 'What events are signed with; without it they are not signed.' }),
    template: template('a body', MOST_TEMPLATE).meta({
      description: 'What is posted in the place of an event, as a Liquid template.',
    }),
    method: string()
      .oneOf(METHODS, `Expected one of ${METHODS.join(', ')}.`)
      .default('POST')
      .meta({ description: 'How it is posted.' }),
    headers: string()
      .default('')
      .max(4000)
      .test('headers', '', (value, { createError }) => {
        const message = headersProblem(value ?? '');
        return message === null || createError({ message });
      })
      .meta({ description: 'Headers that go along, one “Name: value” a line. They may be keys.' }),
  }),
  fields: [
    f.text('address', 'Address', 'Where events are posted to. It is kept secret and not shown again.', {
      placeholder: 'https://crew.ternferry.test/events',
      key: true,
    }),
    f.secret(
      'secret',
      'Signing secret',
      'Of 24 to 64 bytes as base64. The other side checks with it that it was us.',
    ),
    f.area(
      'template',
      'Body',
      `A Liquid template; empty for the event. It may name ${Object.keys(BODY_VALUES).join(', ')}; “| json” makes a value safe in JSON.`,
      { extra: EXTRA, placeholder: '{"summary": {{ title | json }}, "details": {{ text | json }}}' },
    ),
    f.choice('method', 'Method', 'How it is posted.', METHODS, { extra: EXTRA }),
    f.secretArea('headers', 'Headers', 'One “Name: value” a line. Kept secret and not shown again.', {
      extra: EXTRA,
    }),
  ],
  shown: ({ address }) => `${new URL(address).origin}/…`,
  send,
};
