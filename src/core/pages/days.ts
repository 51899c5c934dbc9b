import type { Span } from '@/core/history/spans';
import { dateAt, dayBegins } from '@/core/time/zone-time';
import { DAY_MS, HOUR_MS } from '@/core/time/units';
import { PUBLIC_KINDS, type PublicKind, type PublicStretch } from './public-line';

/** A day of a zone's calendar: "2026-11-25". */
export type Day = string;

/** The day after, or before. */
export function dayBeside(day: Day, step: 1 | -1): Day {
  return new Date(Date.parse(`${day}T00:00:00Z`) + step * DAY_MS).toISOString().slice(0, 10);
}

/** Asking a zone's clocks takes long, and a page asks of the same ninety days for each of its lines. */
const known = new Map<string, Span | null>();
const MOST_KNOWN = 2000;

/** From when to when a day lasts in a zone: 23 or 25 hours where the clocks change; null for what is no day. */
export function daySpan(day: Day, zone: string): Span | null {
  const key = `${day} ${zone}`;
  const found = known.get(key);
  if (found !== undefined) return found;
  const from = dayBegins(day, zone);
  const span = from === null ? null : { from, to: dayBegins(dayBeside(day, 1), zone)! };
  if (known.size >= MOST_KNOWN) known.clear();
  known.set(key, span);
  return span;
}

/** The days of a zone that a span touches, in order. */
export function daysOf({ from, to }: Span, zone: string): Day[] {
  const days: Day[] = [];
  const last = dateAt(to - 1, zone);
  for (let day = dateAt(from, zone); day <= last; day = dayBeside(day, 1)) days.push(day);
  return days;
}

/** A day on which something stands up from a line. */
export interface TroubledDay extends Span {
  day: Day;
  worst: PublicKind;
}

interface DaySpan extends Span {
  day: Day;
}

const laidOut = new Map<string, readonly DaySpan[]>();
const MOST_LAID_OUT = 50;

/** The days that a span touches, each with when it begins and ends; all lines of a page ask for the same. */
function spansOfDays(span: Span, zone: string): readonly DaySpan[] {
  const key = `${Math.floor(span.from / HOUR_MS)} ${Math.ceil(span.to / HOUR_MS)} ${zone}`;
  const found = laidOut.get(key);
  if (found) return found;
  const whole = {
    from: Math.floor(span.from / HOUR_MS) * HOUR_MS,
    to: Math.ceil(span.to / HOUR_MS) * HOUR_MS,
  };
  const days = daysOf(whole, zone).map((day) => ({ day, ...daySpan(day, zone)! }));
  if (laidOut.size >= MOST_LAID_OUT) laidOut.clear();
  laidOut.set(key, days);
  return days;
}

/** The days of a line on which something was out, partly out or slow, each with the worst of it and where that lies. */
export function troubledDays(line: readonly PublicStretch[], zone: string): TroubledDay[] {
  const days = new Map<Day, TroubledDay>();
  if (line.length === 0) return [];
  const spans = spansOfDays({ from: line[0]!.from, to: line.at(-1)!.to }, zone);
  /** Lines go on in time: the next day is looked for from the last. */
  let first = 0;
  for (const { from, to, kind } of line) {
    if (kind !== 'out' && kind !== 'partly' && kind !== 'slow') continue;
    while (spans[first]!.to <= from) first += 1;
    for (let i = first; i < spans.length && spans[i]!.from < to; i += 1) {
      const span = spans[i]!;
      const cut = { from: Math.max(from, span.from), to: Math.min(to, span.to) };
      const known = days.get(span.day);
      if (!known) days.set(span.day, { day: span.day, worst: kind, ...cut });
      else {
        known.to = Math.max(known.to, cut.to);
        if (PUBLIC_KINDS.indexOf(kind) > PUBLIC_KINDS.indexOf(known.worst)) known.worst = kind;
      }
    }
  }
  return [...days.values()];
}
