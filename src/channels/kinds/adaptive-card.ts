import { cutTo, withoutCalls } from '@/core/messages/safe-text';
import { toneOf, type Tone } from '@/core/messages/tone';
import * as f from '@/core/settings/fields';
import { settingsOf } from '@/channels/frame/fields';
import { openWord, takeWord } from '@/channels/frame/all-lines';
import { ROOM_PACE } from '@/channels/frame/room-pace';
import type { Answer, ChannelKind, Outgoing } from '@/channels/frame/kind';
import { answerOnly, callJson, JSON_HEADERS, webAddress } from '@/channels/transport/call-json';

export interface AdaptiveCardSettings {
  address: string;
}

/** The colours a card may name (Adaptive Cards 1.4, TextBlock). */
const COLOURS: Record<Tone, string> = { bad: 'attention', hand: 'warning', fine: 'good', note: 'default' };
/** Text of a card is Markdown of a small kind: what would begin a link, a list or a heading is shown as it is. */
const shownAs = (text: string, most: number) =>
  withoutCalls(cutTo(text, most)).replace(/[\\`*_[\]()#>|~-]/g, '\\$&');

/** A message as a card (Adaptive Cards 1.4). */
export function adaptiveCardOf({ title, lines, link, event, take, language }: Outgoing) {
  return {
    $schema: 'http://adaptivecards.io/schemas/adaptive-card.json',
    type: 'AdaptiveCard',
    version: '1.4',
    fallbackText: cutTo(title, 200),
    body: [
      {
        type: 'TextBlock',
        text: shownAs(title, 300),
        size: 'large',
        weight: 'bolder',
        wrap: true,
        color: COLOURS[toneOf(event)],
      },
      ...lines.map((line) => ({
        type: 'TextBlock',
        text: shownAs(line, 2000),
        wrap: true,
        spacing: 'small',
      })),
    ],
    actions: [
      ...(take === null ? [] : [{ type: 'Action.OpenUrl', title: takeWord(language), url: take }]),
      { type: 'Action.OpenUrl', title: openWord(language), url: link },
    ],
  };
}

/** Some rooms answer 200 and say in the text that they did not take it. */
const REFUSED_INSIDE = /\b(?:failed|error|not delivered|throttl|too many)\b/i;
const BUSY_INSIDE = /\b(?:429|5\d\d|throttl|too many|busy)/i;

async function send(
  { address }: AdaptiveCardSettings,
  message: Outgoing,
  signal: AbortSignal,
): Promise<Answer> {
  const body = JSON.stringify({
    type: 'message',
    attachments: [
      {
        contentType: 'application/vnd.microsoft.card.adaptive',
        contentUrl: null,
        content: adaptiveCardOf(message),
      },
    ],
  });
  const reply = await callJson({ address, headers: JSON_HEADERS, body, secrets: [address] }, signal);
  const answer = answerOnly(reply);
  if (!answer.ok || !REFUSED_INSIDE.test(reply.text)) return answer;
  return { ...answer, ok: false, retry: BUSY_INSIDE.test(reply.text) };
}

export const adaptiveCard: ChannelKind<AdaptiveCardSettings> = {
  id: 'adaptive-card',
  title: 'chat webhook with an adaptive card',
  help: 'Any chat room or flow that takes a message with an adaptive card, with a button that opens the desk.',
  schema: settingsOf<AdaptiveCardSettings>({
    address: webAddress('Expected the webhook address of the room or flow, got nothing.').meta({
      description: 'Where cards are posted to. It is a secret.',
    }),
  }),
  fields: [
    f.text('address', 'Webhook address', 'The room or flow shows it once it is set up. It is kept secret.', {
      placeholder: 'https://chat.ternferry.test/flows/…',
      key: true,
    }),
  ],
  shown: ({ address }) => `${new URL(address).origin}/…`,
  send,
  pace: ROOM_PACE,
};
