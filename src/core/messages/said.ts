import type { Speech } from '@/core/languages/speech';
import { needsSeconds } from '@/core/time/clock-text';
import { formatDuration, formatExactDuration } from '@/core/time/duration';
import { likelyCauses } from './likely-cause';
import {
  composeMessage,
  speechFor,
  type MessageEvent,
  type MessageSubject,
  type MessageText,
} from './message';

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
  /** Several at once. */
  | {
      kind: 'several';
      /** There were many, hours have opened, or they likely have one cause with what was told before. */
      because: 'burst' | 'hours' | 'together';
      items: SaidItem[];
      /** What was told before that they may belong to. */
      before?: SaidItem[];
    }
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

/** A line for each of the first few, and how many there are besides. */
function linesOf<T>(items: readonly T[], { say, count }: Speech, line: (item: T) => string): string[] {
  const left = items.length - MOST_NAMED;
  const more = left > 0 ? [say('several.left', { count: count(left) })] : [];
  return [...items.slice(0, MOST_NAMED).map(line), ...more];
}

function itemLine({ name, event, over }: SaidItem, subject: MessageSubject, speech: Speech): string {
  const { zone, link, language } = subject;
  const { say, clock, trouble } = speech;
  const about = { watchName: name, zone, link, ...(language && { language }) };
  if (over?.kind === 'recovered') {
    const exact = needsSeconds(over.began, over.ended);
    const [from, to] = [over.began, over.ended].map((at) => clock(at, zone, exact));
    const length = formatExactDuration(over.ended - over.began);
    return say('item.recovered', { name, length, from: from!, to: to! });
  }
  if (over) return `${composeMessage(over, about).title}.`;
  if (event.kind === 'down') {
    const why = trouble(event.cause, event.detail, event.walk);
    return say('item.down', { name, at: clock(event.began, zone), why });
  }
  const { title, lines } = composeMessage(event, about);
  return `${title}: ${lines[0] ?? ''}`;
}

/** Those that were not over when they were told. */
function standing(items: readonly SaidItem[]): SaidItem[] {
  return items.filter(({ over }) => over === null);
}

function severalInWords(
  { items, because, before = [] }: Extract<SaidEvent, { kind: 'several' }>,
  subject: MessageSubject,
  speech: Speech,
): Omit<MessageText, 'link'> {
  const { say, counted } = speech;
  const [first] = items;
  const down = items.every(({ event, over }) => event.kind === 'down' && over === null);
  const late = because === 'hours';
  const phrase = late ? 'several.hours' : down ? 'several.down' : 'several.troubles';
  const title =
    down && because === 'together' && items.length === 1
      ? say('down.title', { name: first!.name })
      : say(phrase, { n: items.length, count: counted(items.length) });
  const lines = linesOf(items, speech, (item) => itemLine(item, subject, speech));
  const causes = likelyCauses(standing(items), standing(before), speech);
  return { title, lines: [...causes, ...lines, say('several.zone', { zone: subject.zone })] };
}

/** Title and lines of what is said, in words; null for what happened itself. */
function wordsOf(event: SaidEvent, subject: MessageSubject): Omit<MessageText, 'link'> | null {
  const { watchName: name, zone } = subject;
  const speech = speechFor(subject);
  const { say, clock, list, count, counted } = speech;
  switch (event.kind) {
    case 'still-down': {
      const { title, lines } = composeMessage(event.down, subject);
      const length = formatDuration(event.at - event.began);
      const lasts = say('still.lasts', { length, at: clock(event.began, zone), zone });
      if (event.down.kind !== 'down') {
        return { title: say('still.other', { title }), lines: [lasts, ...lines] };
      }
      const [sentence, , ...rest] = lines;
      return { title: say('still.title', { name }), lines: [lasts, sentence!, ...rest] };
    }
    case 'several':
      return severalInWords(event, subject, speech);
    case 'several-over': {
      const { items } = event;
      return {
        title: say('several.over', { n: items.length, count: counted(items.length) }),
        lines: linesOf(items, speech, (item) => itemLine(item, subject, speech)),
      };
    }
    case 'also': {
      const names = event.items.map((item) => item.name);
      const n = names.length;
      const left = n - MOST_NAMED;
      const shown =
        left > 0
          ? say('names.more', { names: names.slice(0, MOST_NAMED).join(', '), count: count(left) })
          : list(names);
      return {
        title: say('also.title', { n, count: counted(n), name }),
        lines: [say('also.line', { n, names: shown })],
      };
    }
    case 'unsteady': {
      const length = formatDuration(event.withinMs);
      return {
        title: say('unsteady.title', { name }),
        lines: [say('unsteady.line', { count: count(event.turns), length }), say('unsteady.note')],
      };
    }
    case 'steady':
      return {
        title: say('steady.title', { name }),
        lines: [say('steady.line', { at: clock(event.since, zone), zone })],
      };
    case 'taken': {
      const { by, until } = event;
      const rests = until === null ? say('taken.line') : say('taken.until', { at: clock(until, zone), zone });
      return { title: say('taken.title', { by, name }), lines: [rests] };
    }
    case 'given-back': {
      const { by } = event;
      const title = by === null ? say('given.nobody', { name }) : say('given.back', { by, name });
      return { title, lines: [say('given.line')] };
    }
    default:
      return null;
  }
}

/** Puts what is said into words, as `composeMessage` does for what happened. */
export function composeSaid(event: SaidEvent, subject: MessageSubject): MessageText {
  const words = wordsOf(event, subject);
  return words ? { ...words, link: subject.link } : composeMessage(event as MessageEvent, subject);
}
