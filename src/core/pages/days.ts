import type { Span } from '@/core/history/spans';
import { dateAt, dayBegins } from '@/core/time/zone-time';
import { DAY_MS } from '@/core/time/units';
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

/** The days of a line on which something was out, partly out or slow, each with the worst of it and where that lies. */
export function troubledDays(line: readonly PublicStretch[], zone: string): TroubledDay[] {
  const days = new Map<Day, TroubledDay>();
  let day: Day | null = null;
  for (const { from, to, kind } of line) {
    if (kind !== 'out' && kind !== 'partly' && kind !== 'slow') continue;
    // Lines go on in time: the next day is looked for from the last.
    day ??= dateAt(from, zone);
    while (daySpan(day, zone)!.to <= from) day = dayBeside(day, 1);
    for (let at: Day = day; daySpan(at, zone)!.from < to; at = dayBeside(at, 1)) {
      const span = daySpan(at, zone)!;
      const cut = { from: Math.max(from, span.from), to: Math.min(to, span.to) };
      const known = days.get(at);
      if (!known) days.set(at, { day: at, worst: kind, ...cut });
      else {
        known.to = Math.max(known.to, cut.to);
        if (PUBLIC_KINDS.indexOf(kind) > PUBLIC_KINDS.indexOf(known.worst)) known.worst = kind;
      }
    }
  }
  return [...days.values()];
}
