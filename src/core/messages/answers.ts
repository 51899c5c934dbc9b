import { LANGUAGE_CODES, type Language } from '@/core/languages/language';
import { speechOf } from '@/core/languages/speech';

/** What somebody says of a trouble in the room that was told of it. */
export interface RoomAnswer {
  does: 'take' | 'give-back';
  /** The watch it names; null where it names none. */
  watchId: number | null;
}

/** An answer that came in a room, for whoever keeps who has what. */
export interface HeardAnswer extends RoomAnswer {
  channelId: number;
  by: string;
  /** The message it answers, as the other side knows it. */
  to: string | null;
}

/** Nothing longer is an answer: it is a conversation. */
const LONGEST = 80;

/** A text as answers are compared: without accents, marks around it, or who is spoken to. */
function plain(text: string): string {
  return text
    .normalize('NFD')
    .replace(/\p{M}/gu, '')
    .toLowerCase()
    .replace(/^\s*@?[\w.-]{1,40}[:,]\s+/, '')
    .replace(/^[\s"“”„«»'’]+|[\s"“”„«»'’.!]+$/g, '')
    .replace(/\s+/g, ' ');
}

/** All languages are heard everywhere: whoever answers may speak another one than the room. */
const ANSWERS = new Map<string, RoomAnswer['does']>(
  LANGUAGE_CODES.flatMap((language) => [
    [plain(speechOf(language).say('answer.take')), 'take' as const] as const,
    [plain(speechOf(language).say('answer.back')), 'give-back' as const] as const,
  ]),
);

/** What was meant; null for all that is no answer. */
export function readAnswer(text: string): RoomAnswer | null {
  if (text.length > LONGEST) return null;
  const [, words, number] = /^(.*?)(?: #?(\d{1,9}))?$/.exec(plain(text)) ?? [];
  const does = ANSWERS.get(words ?? '');
  return does === undefined ? null : { does, watchId: number === undefined ? null : Number(number) };
}

/** What to answer to have a trouble. */
export function answerFor(watchId: number, language: Language): string {
  return `${speechOf(language).say('answer.take')} ${watchId}`;
}
