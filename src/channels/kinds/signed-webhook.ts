import { createHmac } from 'node:crypto';
import { object, string } from 'yup';
import * as f from '@/core/settings/fields';
import { answerOnly, callJson, webAddress } from '@/channels/transport/call-json';
import { cloudEventOf } from '@/channels/frame/cloud-event';
import type { Answer, ChannelKind, Outgoing } from '@/channels/frame/kind';

export interface SignedWebhookSettings {
  address: string;
  secret: string;
}

const PREFIX = 'whsec_';
/** 24 to 64 bytes, as base64 (Standard Webhooks, "Signature scheme"). */
const SECRET = /^(?:whsec_)?[A-Za-z0-9+/]{32,86}={0,2}$/;

/** The signature of a body (Standard Webhooks): HMAC-SHA256 over id, time and body. */
function signature(secret: string, id: string, seconds: number, body: string): string {
  const key = Buffer.from(secret.startsWith(PREFIX) ? secret.slice(PREFIX.length) : secret, 'base64');
  return `v1,${createHmac('sha256', key).update(`${id}.${seconds}.${body}`).digest('base64')}`;
}

async function send(
  { address, secret }: SignedWebhookSettings,
  message: Outgoing,
  signal: AbortSignal,
): Promise<Answer> {
  const body = JSON.stringify(cloudEventOf(message));
  const seconds = Math.floor(Date.now() / 1000);
  const headers = {
    'content-type': 'application/cloudevents+json; charset=utf-8',
    'webhook-id': message.id,
    'webhook-timestamp': String(seconds),
    ...(secret !== '' && { 'webhook-signature': signature(secret, message.id, seconds, body) }),
  };
  const reply = await callJson({ address, headers, body, secrets: [address, secret] }, signal);
  const answer = answerOnly(reply);
  if (reply.status !== 410) return answer;
  return { ...answer, gone: true, said: `${answer.said} (gone: nothing is sent there any more)` };
}

export const signedWebhook: ChannelKind<SignedWebhookSettings> = {
  id: 'event',
  title: 'webhook for programs',
  help: 'Each message as an event (CloudEvents 1.0), signed as the Standard Webhooks specification says.',
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
  ],
  shown: ({ address }) => `${new URL(address).origin}/…`,
  send,
};
