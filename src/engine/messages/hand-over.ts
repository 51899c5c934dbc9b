import type { House } from '@/channels/frame/house';
import type { Answer, ChannelKind, Line, Outgoing } from '@/channels/frame/kind';
import { channelKind } from '@/channels/kinds/registry';
import { USUAL_LANGUAGE } from '@/core/languages/language';
import { speechOf } from '@/core/languages/speech';
import { answerFor } from '@/core/messages/answers';
import { messageInWords, type MessagePlace } from '@/core/messages/kept-message';
import type { MessageText } from '@/core/messages/message';
import { messageInOwnWords, type OwnText } from '@/core/messages/own-text';
import { oneLine } from '@/core/messages/safe-text';
import { TemplateError } from '@/core/messages/sandbox';
import { DAY_MS } from '@/core/time/units';
import { limitTime } from '@/outside/limit';
import { openSecrets, type Vault } from '@/store/db/vault';
import type { DueDelivery } from '@/store/messages/deliveries';
import { signTakeLink } from '@/store/messages/take-links';

/** However a kind of channel limits itself, no hand-over takes longer. */
const HAND_OVER_LIMIT_MS = 60_000;

/** What can be taken while it lasts. */
const TAKEABLE = new Set(['down', 'still-down', 'several', 'also', 'unsteady', 'given-back']);

/** Where somebody says that they have what a delivery is about. */
function takeAddress(
  { message, watchId, createdAt }: DueDelivery,
  { linkBase }: MessagePlace,
  key: Buffer | null,
): string | null {
  if (!message || watchId === null || message.openedAt === undefined || key === null) return null;
  if (!TAKEABLE.has(message.event.kind)) return null;
  const { openedAt, drill = null } = message;
  const link = { watchId, openedAt, until: createdAt + DAY_MS, drill };
  return `${linkBase}/take/${signTakeLink(link, key)}`;
}

/** What is to be said in place of the built-in text, and how to speak of it. */
interface Wording {
  /** Whether whoever reads it may answer where it is read. */
  listens: boolean;
  place: MessagePlace;
  own: OwnText | null;
  takeKey: Buffer | null;
}

/** A delivery in words, and what came of words of one's own. */
interface Worded {
  outgoing: Outgoing;
  /** What is kept of it, where it is not the built-in English text. */
  words: MessageText | null;
  /** Why the text of one's own could not be used. */
  trouble: TemplateError | null;
}

function inWords(
  { message, text, watchId }: DueDelivery,
  { place, own }: Wording,
  take: string | null,
): { said: MessageText; trouble: TemplateError | null } {
  if (!message) return { said: text!, trouble: null };
  if (!own) return { said: messageInWords(message, watchId, place), trouble: null };
  try {
    return { said: messageInOwnWords(message, watchId, place, own, take), trouble: null };
  } catch (error) {
    if (!(error instanceof TemplateError)) throw error;
    return { said: messageInWords(message, watchId, place), trouble: error };
  }
}

/** What a conversation is called outside: the next trouble of the same watch is another one. */
const nameOf = (thread: string, openedAt = 0) => `${thread}.${openedAt}`;

/** A delivery in words, with what tells it from others. */
export function outgoingOf(delivery: DueDelivery, wording: Wording): Worded {
  const { id, createdAt: at, message, watchId, thread, insteadOf } = delivery;
  const { place, own } = wording;
  const { language = USUAL_LANGUAGE } = place;
  const take = takeAddress(delivery, place, wording.takeKey);
  const { said, trouble } = inWords(delivery, wording, take);
  const instead = insteadOf === null ? [] : [speechOf(language).say('instead', { name: insteadOf })];
  // Names and what pages said stand in it: nothing in them begins a line of its own or turns one round.
  const words: MessageText = {
    title: oneLine(said.title),
    lines: [...instead, ...said.lines].map(oneLine),
    link: said.link,
  };
  const outgoing = {
    ...words,
    id: `${at}.${id}`,
    conversation: thread === null ? null : nameOf(thread, message?.openedAt),
    follows: message?.follows ? nameOf(message.follows.thread, message.follows.openedAt) : null,
    event: message?.event ?? null,
    at,
    watch: watchId === null ? null : { id: watchId, name: oneLine(message?.watchName ?? '') },
    first: delivery.first,
    drill: message?.drill !== undefined,
    take,
    answer: take !== null && wording.listens ? answerFor(watchId!, language) : null,
    language,
  };
  return { outgoing, trouble, words: own || language !== USUAL_LANGUAGE ? words : null };
}

/** Where a message goes: settings as they are kept, and the line that is kept there, if any. */
interface Through {
  kind: string;
  settings: object;
  lineOf?: (kind: ChannelKind<object>, settings: object) => Line | null;
}

/** Hands a message over through a kind of channel; an unknown kind is an answer, not an error. */
export async function sendThrough(
  { kind, settings: sealed, lineOf }: Through,
  message: Outgoing,
  signal: AbortSignal,
  { vault, house }: { vault: Vault; house: House },
): Promise<Answer> {
  const channel = channelKind(kind);
  if (!channel) return { ok: false, retry: false, said: `There is no kind of channel called "${kind}".` };
  let settings: object;
  try {
    settings = openSecrets(vault, sealed);
  } catch (error) {
    return { ok: false, retry: true, ours: true, said: `Not sent: ${(error as Error).message}.` };
  }
  const limit = limitTime(HAND_OVER_LIMIT_MS, signal);
  const tooLong = new Promise<Answer>((resolve) =>
    limit.signal.addEventListener('abort', () =>
      resolve({ ok: false, retry: true, said: `No answer within ${HAND_OVER_LIMIT_MS / 1000} s` }),
    ),
  );
  try {
    const line = lineOf?.(channel, settings);
    const sent = line
      ? line.send(message, limit.signal)
      : channel.send(settings, message, limit.signal, house);
    return await Promise.race([sent, tooLong]);
  } finally {
    limit.release();
  }
}
