import type { Rung } from '@/core/causes/finding';
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
  /** Of messages from before the walk stood in the event. */
  walk?: readonly Rung[];
}

/** What is the same for all messages of a desk. */
export interface MessagePlace {
  /** The address links begin with. */
  linkBase: string;
  zone: string;
}

/** A message in words, as they are said at this moment. */
export function messageInWords(
  { event, watchName, walk, runbook, drill }: KeptMessage,
  watchId: number | null,
  { linkBase, zone }: MessagePlace,
): MessageText {
  const watched = watchId === null ? linkBase : `${linkBase}/watches/${watchId}`;
  const link = drill === undefined ? watched : `${linkBase}/messages/drills/${drill}`;
  const whole = event.kind === 'down' && walk ? { walk, ...event } : event;
  const text = composeSaid(whole, { watchName, link, zone, ...(runbook && { runbook }) });
  return drill === undefined ? text : asDrill(text);
}
