import { boolean, string } from 'yup';
import { cutTo, forMarkdown } from '@/core/messages/safe-text';
import { colourOf, toneOf } from '@/core/messages/tone';
import { askedMs } from '@/core/messages/routing';
import type { Language } from '@/core/languages/language';
import * as f from '@/core/settings/fields';
import { speechOf } from '@/core/languages/speech';
import { settingsOf } from '@/channels/frame/fields';
import { ROOM_PACE } from '@/channels/frame/room-pace';
import type { Answer, ChannelKind, Outgoing } from '@/channels/frame/kind';
import { answerOnly, callJson, JSON_HEADERS, readJson, webAddress } from '@/channels/transport/call-json';

export interface ContentCardSettings {
  address: string;
  mention: string;
  edits: boolean;
}

const MOST_TITLE = 250;
const MOST_TEXT = 4000;
const MOST_ADDED = 1900;

/** What is no news to whoever read the first message: said above its card, without calling anybody again. */
const FOLLOW_UPS = new Set(['also', 'taken', 'given-back', 'still-down']);

const takeLink = (take: string, language: Language) => `[${speechOf(language).say('take.word')}](${take})`;

function cardOf({ title, lines, link, event, at, watch, take, language }: Outgoing) {
  const { say } = speechOf(language);
  const fields = [
    ...(watch
      ? [{ name: say('card.watch'), value: cutTo(forMarkdown(watch.name), MOST_TITLE), inline: true }]
      : []),
    ...(take === null ? [] : [{ name: say('card.untaken'), value: takeLink(take, language), inline: true }]),
  ];
  return {
    title: cutTo(forMarkdown(title), MOST_TITLE),
    url: link,
    description: cutTo(lines.map(forMarkdown).join('\n'), MOST_TEXT),
    color: parseInt(colourOf(toneOf(event)).slice(1), 16),
    timestamp: new Date(at).toISOString(),
    ...(fields.length > 0 && { fields }),
  };
}

/** Who may be called: nobody, but for the one who was asked for. */
function callsOf(mention: string) {
  const [, kind = '', id = ''] = /^<@(&?)(\d+)>$/.exec(mention) ?? [];
  if (id !== '') return { parse: [], [kind === '&' ? 'roles' : 'users']: [id] };
  return { parse: mention === '@everyone' || mention === '@here' ? ['everyone'] : [] };
}

/** What stands above the first card, with one more piece; the oldest goes where there is no room for all. */
function withMore(before: string, { title, lines, follows, take, language }: Outgoing): string {
  // The card has the link of its own trouble; what is added may be about another one.
  const link = follows === null || take === null ? [] : [takeLink(take, language)];
  const text = [`**${forMarkdown(title)}**`, ...lines.map(forMarkdown)].join('\n');
  const piece = [cutTo(text, MOST_ADDED - link.join('').length - 1), ...link].join('\n');
  // It was taken already, and the answer was lost on the way.
  const pieces = before.endsWith(piece) ? [before] : [before, piece].filter((one) => one !== '');
  const whole = pieces.join('\n\n');
  return whole.length > MOST_ADDED ? piece : whole;
}

/** Adds to the first message of the conversation; null where it is not there any more, or cannot be changed. */
async function edit(
  { address }: ContentCardSettings,
  message: Outgoing & { first: string },
  signal: AbortSignal,
): Promise<Answer | null> {
  const url = new URL(address);
  url.pathname = `${url.pathname.replace(/\/$/, '')}/messages/${encodeURIComponent(message.first)}`;
  const call = { address: url.href, headers: JSON_HEADERS, secrets: [address] };
  const stands = await callJson({ ...call, method: 'GET' }, signal);
  if (stands.status === 404) return null;
  // A room that does not show it may still let it be changed.
  if (!stands.ok && stands.status !== 405) return answerOnly(stands);
  const { content } = readJson(stands.text) as { content?: unknown };
  const before = stands.ok && typeof content === 'string' ? content : '';
  const body = JSON.stringify({ content: withMore(before, message), allowed_mentions: { parse: [] } });
  const reply = await callJson({ ...call, method: 'PATCH', body }, signal);
  if (reply.status === 404 || reply.status === 405) return null;
  return { ...answerOnly(reply), ...(reply.ok && { ref: message.first }) };
}

async function send(settings: ContentCardSettings, message: Outgoing, signal: AbortSignal): Promise<Answer> {
  const { address, mention, edits } = settings;
  const { first, follows, event } = message;
  if (edits && first !== null && (follows !== null || FOLLOW_UPS.has(event?.kind ?? ''))) {
    const edited = await edit(settings, { ...message, first }, signal);
    if (edited) return edited;
  }
  const url = new URL(address);
  // Else the room answers before it has taken the message, and does not say by what it knows it.
  url.searchParams.set('wait', 'true');
  const body = JSON.stringify({
    ...(mention !== '' && toneOf(event) === 'bad' && { content: mention }),
    embeds: [cardOf(message)],
    allowed_mentions: callsOf(mention),
  });
  const call = { address: url.href, headers: JSON_HEADERS, body, secrets: [address] };
  const reply = await callJson(call, signal);
  const answer = answerOnly(reply);
  const { id, retry_after: waits } = readJson(reply.text) as { id?: unknown; retry_after?: unknown };
  return {
    ...answer,
    ...(answer.ok && { said: 'taken' }),
    ...(answer.ok && typeof id === 'string' && { ref: id }),
    ...(!answer.ok && typeof waits === 'number' && { retryAfterMs: askedMs(waits * 1000) }),
  };
}

export const contentCard: ChannelKind<ContentCardSettings> = {
  id: 'card-webhook',
  title: 'chat webhook with a card',
  help: 'Any chat room that takes {"content": …, "embeds": […]}: a card with a colour, a title and its text.',
  schema: settingsOf<ContentCardSettings>({
    address: webAddress('Expected the webhook address of the room, got nothing.').meta({
      description: 'The incoming-webhook address of the room. It is a secret.',
    }),
    mention: string()
      .trim()
      .default('')
      .matches(/^(?:|@everyone|@here|<@&?\d{1,25}>)$/, {
        message: 'Expected nothing, @everyone, @here, or a mention such as <@123456>.',
      })
      .meta({ description: 'Who is called when something is down; nobody where it is empty.' }),
    edits: boolean()
      .default(false)
      .meta({ description: 'Whether what follows is added to the first message of a trouble.' }),
  }),
  fields: [
    f.text(
      'address',
      'Webhook address',
      'Your chat room shows it where webhooks are set up. It is kept secret.',
      {
        placeholder: 'https://chat.ternferry.test/hooks/…',
        key: true,
      },
    ),
    f.text(
      'mention',
      'Call',
      'Who is called when something is down: @here, @everyone, <@123456>. Empty calls nobody.',
    ),
    f.toggle(
      'edits',
      'Add what follows to the first message',
      'Who has it, what rests on it or has the same cause, and that it goes on, without a message of its own. That it is over always is one.',
    ),
  ],
  shown: ({ address }) => `${new URL(address).origin}/…`,
  send,
  pace: ROOM_PACE,
};
