import type { Dispatcher } from 'undici';
import webPush from 'web-push';
import { cutTo } from '@/core/messages/safe-text';
import type { PushKeys } from '@/core/messages/notice';
import { toneOf, type Tone } from '@/core/messages/tone';
import { answerOnly, callJson, webAddress } from '@/channels/transport/call-json';
import { needed, settingsOf } from '@/channels/frame/fields';
import { NO_HOUSE } from '@/channels/frame/house';
import type { Answer, ChannelKind, Outgoing } from '@/channels/frame/kind';

export interface PushSettings {
  endpoint: string;
  p256dh: string;
  auth: string;
}

/** A push service keeps a message for a device that is off for so long. */
const KEPT_SECONDS = 86_400;
/** What is pushed is sealed in one record of 4096 bytes (RFC 8291 section 4). */
const MOST_TITLE = 120;
const MOST_BODY = 900;

/** How soon a device is to be woken (RFC 8030 section 5.3). */
const URGENCY: Record<Tone, 'high' | 'normal' | 'low'> = {
  bad: 'high',
  hand: 'normal',
  fine: 'normal',
  note: 'low',
};

/** What a device shows; messages of one conversation take each other's place, and so does what adds to it. */
export function pushedOf({ id, title, lines, link, conversation, follows, event, at }: Outgoing) {
  return {
    title: cutTo(title, MOST_TITLE),
    body: cutTo(lines.join('\n'), MOST_BODY),
    link,
    tag: follows ?? conversation ?? id,
    tone: toneOf(event),
    at,
    // Messages are numbered as they are said.
    nth: Number(id.split('.').at(-1)),
  };
}

/** Who is to be asked where a push service has trouble with us (RFC 8292 section 2.1). */
function subjectOf(link: string): string {
  const { protocol, origin, hostname } = new URL(link);
  return protocol === 'https:' ? origin : `mailto:lantern@${hostname.replace(/[^\w.-]/g, '') || 'localhost'}`;
}

interface PushCall {
  /** What the device is shown, as JSON. */
  shown: object;
  link: string;
  urgency: 'high' | 'normal' | 'low';
  keys: PushKeys;
  by?: Dispatcher;
}

/** Something sealed for a device (RFC 8291) and signed by this desk (RFC 8292). */
function sealed({ endpoint, p256dh, auth }: PushSettings, { shown, link, urgency, keys }: PushCall) {
  const subscription = { endpoint, keys: { p256dh, auth } };
  const { headers, body } = webPush.generateRequestDetails(subscription, JSON.stringify(shown), {
    vapidDetails: { subject: subjectOf(link), ...keys },
    TTL: KEPT_SECONDS,
    urgency,
    contentEncoding: 'aes128gcm',
  });
  return { headers: headers as Record<string, string>, body };
}

/** Hands something for a device to its push service. */
export async function pushTo(settings: PushSettings, call: PushCall, signal: AbortSignal): Promise<Answer> {
  let request: ReturnType<typeof sealed>;
  try {
    request = sealed(settings, call);
  } catch (error) {
    const said = `It could not be sealed for the device: ${(error as Error).message}`;
    return { ok: false, retry: false, said };
  }
  const secrets = [settings.endpoint, settings.auth];
  const reply = await callJson(
    { address: settings.endpoint, ...request, ...(call.by && { by: call.by }), secrets },
    signal,
  );
  const answer = answerOnly(reply);
  if (answer.ok) return { ...answer, said: 'taken by the push service' };
  // RFC 8030 section 7.3: the subscription is no more.
  if (reply.status === 404 || reply.status === 410) {
    const said = 'The device was switched off for pushes, and is asked no more';
    return { ...answer, retry: false, gone: true, said };
  }
  if (reply.status === 403 || reply.status === 401) {
    return {
      ...answer,
      said: `The device was switched on by another desk; switch it on anew: ${answer.said}`,
    };
  }
  return reply.status === 413
    ? { ...answer, said: `It was too large for the push service: ${answer.said}` }
    : answer;
}

const base64url = (what: string, bytes: number) => {
  const least = Math.ceil((bytes * 4) / 3);
  return needed(what, 200).matches(
    new RegExp(`^[\\w-]{${least}}=*$`),
    `Expected ${what}: ${bytes} bytes as base64url.`,
  );
};

export const push: ChannelKind<PushSettings> = {
  id: 'push',
  title: 'phone or browser',
  help: 'The device you are sitting at, by Web Push: it hears also while the desk is closed.',
  byDevice: true,
  schema: settingsOf<PushSettings>({
    endpoint: webAddress('Expected the address the device is pushed to, got nothing.').meta({
      description: 'Where the device’s push service takes messages for it.',
    }),
    p256dh: base64url('the key of the device', 65).meta({
      description: 'The public key of the device (P-256).',
    }),
    auth: base64url('the secret of the device', 16).meta({
      description: 'The secret shared with the device.',
    }),
  }),
  fields: [],
  shown: ({ endpoint }) => `a device, by ${new URL(endpoint).host}`,
  send: async (settings, message, signal, house = NO_HOUSE): Promise<Answer> => {
    let keys: PushKeys;
    try {
      keys = await house.pushKeys();
    } catch (error) {
      const said = `It could not be sealed for the device: ${(error as Error).message}`;
      return { ok: false, retry: false, said };
    }
    const { link, event } = message;
    return pushTo(
      settings,
      { shown: pushedOf(message), link, urgency: URGENCY[toneOf(event)], keys },
      signal,
    );
  },
};
