import { dateAt, dayBegins } from '@/core/time/zone-time';
import { DAY_MS } from '@/core/time/units';

/** A month as weeks of days, from Monday to Sunday, with the days before and after that fill them. */
export interface MonthGrid {
  /** "2026-12". */
  month: string;
  /** Those beside it, as far as one goes from there. */
  before: string | null;
  after: string | null;
  from: number;
  until: number;
  weeks: { day: string; begins: number; ends: number; inside: boolean }[][];
}

const MONTH = /^(\d{4})-(0[1-9]|1[0-2])$/;

function shifted(month: string, by: number): string {
  const [year, number] = month.split('-').map(Number);
  return new Date(Date.UTC(year!, number! - 1 + by, 1)).toISOString().slice(0, 7);
}

/** So many months back and ahead are shown: what follows each link has an end. */
const MOST_AWAY = 12;

/** The month that is asked for, a year back or ahead; the present one where that is none. */
export function monthOf(asked: string | undefined, now: number, zone: string): string {
  const present = dateAt(now, zone).slice(0, 7);
  if (asked === undefined || !MONTH.test(asked)) return present;
  return asked >= shifted(present, -MOST_AWAY) && asked <= shifted(present, MOST_AWAY) ? asked : present;
}

/** The days of a month by a zone's calendar; a day is as long as its clocks make it. */
export function monthGrid(month: string, now: number, zone: string): MonthGrid {
  const present = dateAt(now, zone).slice(0, 7);
  const first = Date.parse(`${month}-01T00:00:00Z`);
  const next = Date.parse(`${shifted(month, 1)}-01T00:00:00Z`);
  const weekday = (new Date(first).getUTCDay() + 6) % 7;
  const weeks: MonthGrid['weeks'] = [];
  for (let at = first - weekday * DAY_MS; at < next; at += 7 * DAY_MS) {
    weeks.push(
      Array.from({ length: 7 }, (_, i) => {
        const day = new Date(at + i * DAY_MS).toISOString().slice(0, 10);
        const after = new Date(at + (i + 1) * DAY_MS).toISOString().slice(0, 10);
        const inside = day.startsWith(month);
        return { day, begins: dayBegins(day, zone)!, ends: dayBegins(after, zone)!, inside };
      }),
    );
  }
  return {
    month,
    before: month > shifted(present, -MOST_AWAY) ? shifted(month, -1) : null,
    after: month < shifted(present, MOST_AWAY) ? shifted(month, 1) : null,
    from: weeks[0]![0]!.begins,
    until: weeks.at(-1)!.at(-1)!.ends,
    weeks,
  };
}
