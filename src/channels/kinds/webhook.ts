import { object, string } from 'yup';
import { messageAsPlainText } from '@/core/messages/message';
import { withoutCalls } from '@/core/messages/safe-text';
import * as f from '@/core/settings/fields';
import { allLines } from '@/channels/frame/all-lines';
import type { Answer, ChannelKind, Outgoing } from '@/channels/frame/kind';
import {
  answerOnly,
  callJson,
  JSON_HEADERS,
  isWebAddress,
  readJson,
  webAddress,
} from '@/channels/transport/call-json';

export interface WebhookSettings {
  address: string;
  user?: string;
  password?: string;
  name?: string;
  icon?: string;
  room?: string;
}

const EXTRA = 'How it looks in the room';

function headersFor({ user = '', password = '' }: WebhookSettings): Record<string, string> {
  const signIn = user !== '' || password !== '';
  return {
    ...JSON_HEADERS,
    ...(signIn && { authorization: `Basic ${Buffer.from(`${user}:${password}`).toString('base64')}` }),
  };
}

/** What goes to the room: who says it and where, where that was asked for. */
function bodyOf({ name = '', icon = '', room = '' }: WebhookSettings, message: Outgoing): string {
  return JSON.stringify({
    text: withoutCalls(messageAsPlainText({ ...message, lines: allLines(message) })),
    ...(name !== '' && { username: name }),
    ...(icon !== '' && (icon.startsWith(':') ? { icon_emoji: icon } : { icon_url: icon })),
    ...(room !== '' && { channel: room }),
  });
}

/** POSTs {"text": …} as JSON to an incoming-webhook address. */
async function send(settings: WebhookSettings, message: Outgoing, signal: AbortSignal): Promise<Answer> {
  const { address, password = '' } = settings;
  const posted = {
    address,
    headers: headersFor(settings),
    body: bodyOf(settings, message),
    secrets: [address, password],
  };
  const reply = await callJson(posted, signal);
  const answer = answerOnly(reply);
  // Some rooms answer 200 and say inside that they did not take it.
  const { ok } = readJson(reply.text) as { ok?: unknown };
  return answer.ok && ok === false ? { ...answer, ok: false, retry: false } : answer;
}

export const webhook: ChannelKind<WebhookSettings> = {
  id: 'webhook',
  title: 'chat webhook',
  help: 'Any chat room that takes {"text": …} at an incoming-webhook address.',
  schema: object({
    address: webAddress(
      'Expected the webhook address of the room, got nothing.',
      'Expected an address without a name and password; they have fields of their own below, where they are kept sealed.',
    ).meta({ description: 'The incoming-webhook address of the room. It is a secret.' }),
    user: string()
      .trim()
      .default('')
      .max(200)
      .meta({ description: 'The name for basic sign-in, if asked for.' }),
    password: string().default('').max(500).meta({ description: 'The password for basic sign-in.' }),
    name: string()
      .trim()
      .default('')
      .max(80)
      .meta({ description: 'The name messages come under, where the room lets that be chosen.' }),
    icon: string()
      .trim()
      .default('')
      .max(500)
      .test(
        'icon',
        'Expected the address of a picture, or a sign between colons such as :anchor:.',
        (value) => !value || /^:[\w+-]{1,60}:$/.test(value) || isWebAddress(value),
      )
      .meta({ description: 'The picture messages come with: an address, or a sign such as :anchor:.' }),
    room: string()
      .trim()
      .default('')
      .max(200)
      .meta({ description: 'The room it goes to, where one address serves several.' }),
  }),
  fields: [
    f.text(
      'address',
      'Webhook address',
      'Your chat room shows it where incoming webhooks are set up. It is kept secret and not shown again.',
      { placeholder: 'https://chat.ternferry.test/hooks/…', key: true },
    ),
    f.text('user', 'User for sign-in', 'Only where the address asks for one (basic sign-in).'),
    f.secret('password', 'Password', 'Kept secret and not shown again.'),
    f.text('name', 'Name it comes under', 'Where the room lets it be chosen.', { extra: EXTRA }),
    f.text('icon', 'Picture', 'The address of one, or a sign such as :anchor:.', { extra: EXTRA }),
    f.text('room', 'Room', 'Where one address serves several: #crew.', { extra: EXTRA }),
  ],
  shown: (settings) => `${new URL(settings.address).origin}/…`,
  send,
};
