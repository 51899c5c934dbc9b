import type { Rung } from '@/core/causes/finding';
import type { Language } from '@/core/languages/language';
import { asDrill } from './drill';
import type { MessageText } from './message';
import { composeSaid, type SaidEvent } from './said';

/** A message as it is kept: what is said and about what. It is put into words when it is handed over. */
export interface KeptMessage {
  event: SaidEvent;
  watchName: string;
  /** What to do when it is down. */
  runbook?: { link: string; note: string };
  /** The rehearsal it belongs to. */
  drill?: number;
  /** When the trouble was noticed that it belongs to. */
  openedAt?: number;
  /** The conversation it adds to, and when that was opened. */
  follows?: { thread: string; openedAt: number };
  /** Of messages from before the walk stood in the event. */
  walk?: readonly Rung[];
}

/** What is the same for all messages of a desk. */
export interface MessagePlace {
  /** The address links begin with. */
  linkBase: string;
  zone: string;
  /** English, unless it says otherwise. */
  language?: Language;
}

/** A message in the words that are built in, without the mark of a drill. */
export function builtInWords(
  { event, watchName, walk, runbook, drill }: KeptMessage,
  watchId: number | null,
  { linkBase, zone, language }: MessagePlace,
): MessageText {
  const watched = watchId === null ? linkBase : `${linkBase}/watches/${watchId}`;
  const link = drill === undefined ? watched : `${linkBase}/messages/drills/${drill}`;
  const whole = event.kind === 'down' && walk ? { walk, ...event } : event;
  const subject = { watchName, link, zone, ...(language && { language }), ...(runbook && { runbook }) };
  return composeSaid(whole, subject);
}

/** The same, marked where it belongs to a drill. */
export function marked({ drill }: KeptMessage, text: MessageText, language?: Language): MessageText {
  return drill === undefined ? text : asDrill(text, language);
}

/** A message in words, as they are said at this moment. */
export function messageInWords(kept: KeptMessage, watchId: number | null, place: MessagePlace): MessageText {
  return marked(kept, builtInWords(kept, watchId, place), place.language);
}
