import { CAUSES, causeSentence, type CauseCode, type CauseDetail } from './causes';
import { formatClock } from './clock-text';
import { formatExactDuration } from './duration';

/** What happened, as far as a message needs it. */
export type MessageEvent =
  | { kind: 'down'; began: number; noticed: number; cause: CauseCode; detail: CauseDetail }
  | { kind: 'recovered'; began: number; ended: number }
  | { kind: 'test' };

/** What is said, independent of the channel that carries it. */
export interface MessageText {
  title: string;
  lines: string[];
  link: string;
}

export interface MessageSubject {
  watchName: string;
  link: string;
  zone: string;
}

/** Puts an event into words: which watch, what is wrong, since when, what to try, where to read on. */
export function composeMessage(event: MessageEvent, subject: MessageSubject): MessageText {
  const { watchName, link, zone } = subject;
  switch (event.kind) {
    case 'down':
      return {
        title: `${watchName} is down`,
        lines: [
          causeSentence(event.cause, event.detail),
          `Since ${formatClock(event.began, zone)} (${zone}).`,
          `Try this: ${CAUSES[event.cause].advice}`,
        ],
        link,
      };
    case 'recovered':
      return {
        title: `${watchName} is up again`,
        lines: [
          `It was down for ${formatExactDuration(event.ended - event.began)}, from ` +
            `${formatClock(event.began, zone)} to ${formatClock(event.ended, zone)} (${zone}).`,
        ],
        link,
      };
    case 'test':
      return {
        title: 'A test from Calm Lantern',
        lines: ['If you can read this, messages reach you here.'],
        link,
      };
  }
}

/** A message as plain text. */
export function messageAsPlainText(message: MessageText): string {
  return [message.title, ...message.lines, message.link].join('\n');
}
