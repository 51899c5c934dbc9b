import { composeMessage, type MessageEvent, type MessageSubject, type MessageText } from './message';

/** A message as it is kept: what happened and what it is about. It is put into words when it is handed over. */
export interface KeptMessage {
  event: MessageEvent;
  watchName: string;
  walk?: MessageSubject['walk'];
}

/** What is the same for all messages of a desk. */
export interface MessagePlace {
  /** The address links begin with. */
  linkBase: string;
  zone: string;
}

/** A message in words, as they are said at this moment. */
export function messageInWords(
  { event, watchName, walk }: KeptMessage,
  watchId: number | null,
  { linkBase, zone }: MessagePlace,
): MessageText {
  const link = watchId === null ? linkBase : `${linkBase}/watches/${watchId}`;
  return composeMessage(event, { watchName, link, zone, ...(walk && { walk }) });
}
