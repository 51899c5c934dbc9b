import { troubleSentence } from '@/core/causes/ladder-text';
import { formatClock, needsSeconds } from '@/core/time/clock-text';
import { formatDuration, formatExactDuration } from '@/core/time/duration';
import { capitalise, listed, numberWord } from '@/core/text/words';
import { composeMessage, type MessageEvent, type MessageSubject, type MessageText } from './message';

/** One of several that are told together. */
export interface SaidItem {
  watchId: number | null;
  name: string;
  event: MessageEvent;
  /** How it ended before it was told; null while it goes on, and for what has no end. */
  over: MessageEvent | null;
}

/** What is said: what happened, or what is to be said beside that. */
export type SaidEvent =
  | MessageEvent
  | { kind: 'still-down'; began: number; at: number; times: number; down: MessageEvent }
  /** Several at once: `because` of a burst, or because hours have opened. */
  | { kind: 'several'; because: 'burst' | 'hours'; items: SaidItem[] }
  | { kind: 'several-over'; items: SaidItem[] }
  /** What follows from a trouble that was told. */
  | { kind: 'also'; items: { watchId: number; name: string }[] }
  | { kind: 'unsteady'; turns: number; withinMs: number }
  | { kind: 'steady'; since: number }
  | { kind: 'taken'; by: string; until: number | null }
  | { kind: 'given-back'; by: string | null };

/** All that can be said, by its kind. */
export const SAID_KINDS = [
  'down',
  'still-down',
  'recovered',
  'closed',
  'warned',
  'several',
  'several-over',
  'also',
  'unsteady',
  'steady',
  'taken',
  'given-back',
  'line',
  'own',
  'new-checkin',
  'slow',
  'maintenance',
  'incident',
  'letter',
  'test',
] as const satisfies readonly SaidEvent['kind'][];

/** So many of several are told by name. */
const MOST_NAMED = 20;

function counted(items: readonly unknown[], one: string, many: string): string {
  return items.length === 1 ? `One ${one}` : `${capitalise(numberWord(items.length))} ${many}`;
}

/** A line for each of the first few, and how many there are besides. */
function linesOf<T>(items: readonly T[], line: (item: T) => string): string[] {
  const left = items.length - MOST_NAMED;
  return [...items.slice(0, MOST_NAMED).map(line), ...(left > 0 ? [`And ${numberWord(left)} more.`] : [])];
}

function itemLine({ name, event, over }: SaidItem, { zone, link }: MessageSubject): string {
  if (over?.kind === 'recovered') {
    const exact = needsSeconds(over.began, over.ended);
    const [from, to] = [over.began, over.ended].map((at) => formatClock(at, zone, exact));
    return `${name} was down for ${formatExactDuration(over.ended - over.began)}, from ${from} to ${to}.`;
  }
  if (over) return `${composeMessage(over, { watchName: name, zone, link }).title}.`;
  if (event.kind === 'down') {
    const since = formatClock(event.began, zone);
    return `${name}, since ${since}: ${troubleSentence(event.cause, event.detail, event.walk ?? [])}`;
  }
  const { title, lines } = composeMessage(event, { watchName: name, zone, link });
  return `${title}: ${lines[0] ?? ''}`;
}

/** Puts what is said into words, as `composeMessage` does for what happened. */
export function composeSaid(event: SaidEvent, subject: MessageSubject): MessageText {
  const { watchName, link, zone } = subject;
  switch (event.kind) {
    case 'still-down': {
      const { title, lines } = composeMessage(event.down, subject);
      const lasts = `For ${formatDuration(event.at - event.began)} now, since ${formatClock(event.began, zone)} (${zone}).`;
      if (event.down.kind !== 'down') return { title: `Still: ${title}`, lines: [lasts, ...lines], link };
      const [sentence, , ...rest] = lines;
      return { title: `${watchName} is still down`, lines: [lasts, sentence!, ...rest], link };
    }
    case 'several': {
      const down = event.items.every((item) => item.event.kind === 'down' && item.over === null);
      const hours = event.because === 'hours';
      const title = hours
        ? `${counted(event.items, 'trouble', 'troubles')} outside the hours`
        : down
          ? `${counted(event.items, 'more is down', 'more are down')}`
          : counted(event.items, 'more trouble', 'more troubles');
      return {
        title,
        lines: [...linesOf(event.items, (item) => itemLine(item, subject)), `Times are those of ${zone}.`],
        link,
      };
    }
    case 'several-over': {
      const title = counted(event.items, 'more is up again', 'more are up again');
      return { title, lines: linesOf(event.items, (item) => itemLine(item, subject)), link };
    }
    case 'also': {
      const names = event.items.map(({ name }) => name);
      const left = names.length - MOST_NAMED;
      const shown = left > 0 ? [...names.slice(0, MOST_NAMED), `${numberWord(left)} more`] : names;
      return {
        title: `${counted(names, 'more is down', 'more are down')} with ${watchName}`,
        lines: [
          `${listed(shown)} ${names.length === 1 ? 'rests' : 'rest'} on it, and ${names.length === 1 ? 'is' : 'are'} not told one by one.`,
        ],
        link,
      };
    }
    case 'unsteady':
      return {
        title: `${watchName} keeps going down and up`,
        lines: [
          `It turned ${numberWord(event.turns)} times within ${formatDuration(event.withinMs)}.`,
          'You hear of it again when it stands still.',
        ],
        link,
      };
    case 'steady':
      return {
        title: `${watchName} stands still again`,
        lines: [`It has been up since ${formatClock(event.since, zone)} (${zone}).`],
        link,
      };
    case 'taken': {
      const until = event.until === null ? '' : ` until ${formatClock(event.until, zone)} (${zone})`;
      return {
        title: `${event.by} has ${watchName}`,
        lines: [`Reminders and further steps rest${until}.`],
        link,
      };
    }
    case 'given-back':
      return {
        title: event.by === null ? `Nobody has ${watchName} any more` : `${event.by} gave ${watchName} back`,
        lines: ['Reminders and further steps go on.'],
        link,
      };
    default:
      return composeMessage(event, subject);
  }
}
