import { DAY_MS } from '@/core/time/units';

export type Frequency = 'DAILY' | 'WEEKLY' | 'MONTHLY' | 'YEARLY';

/** The days of a recurrence rule, as RFC 5545 (3.3.10) writes them; null where a part is not there. */
export interface RuleDays {
  frequency: Frequency;
  /** From 1. */
  months: readonly number[] | null;
  /** Of a month; from its end where they are negative. */
  monthDays: readonly number[] | null;
  /** 0 is Monday. With a place: the second of a month, or its last (-1). */
  weekdays: readonly { weekday: number; place: number | null }[] | null;
}

// One turn of the calendar: after 28 years the days fall on the same weekdays again. It begins on a Monday.
const FIRST_YEAR = 2001;
const YEARS = 28;

/** A day; how many days its month has; its number from 0, which is a Monday. */
type Day = Record<'year' | 'month' | 'day' | 'length' | 'number', number>;

function* daysOfCalendar(): Generator<Day> {
  const start = Date.UTC(FIRST_YEAR, 0, 1);
  for (let month = 0; month < YEARS * 12; month += 1) {
    const begins = Date.UTC(FIRST_YEAR, month, 1);
    const length = Math.round((Date.UTC(FIRST_YEAR, month + 1, 1) - begins) / DAY_MS);
    for (let day = 1; day <= length; day += 1) {
      const number = Math.round((begins - start) / DAY_MS) + day - 1;
      yield { year: FIRST_YEAR + Math.floor(month / 12), month: (month % 12) + 1, day, length, number };
    }
  }
}

function isOf({ months, monthDays, weekdays }: RuleDays, { month, day, length, number }: Day): boolean {
  if (months && !months.includes(month)) return false;
  if (monthDays && !monthDays.includes(day) && !monthDays.includes(day - length - 1)) return false;
  const places = [null, Math.ceil(day / 7), -Math.ceil((length - day + 1) / 7)];
  return weekdays?.some((one) => one.weekday === number % 7 && places.includes(one.place)) ?? true;
}

const PERIOD: Readonly<Record<Frequency, (day: Day) => number>> = {
  DAILY: ({ number }) => number,
  WEEKLY: ({ number }) => Math.floor(number / 7),
  MONTHLY: ({ year, month }) => year * 12 + month,
  YEARLY: ({ year }) => year,
};

/** A rule that names no day comes on the day it came first: any that each week, month or year has stands for it. */
function withDays(rule: RuleDays): RuleDays {
  if (rule.monthDays || rule.weekdays || rule.frequency === 'DAILY') return rule;
  if (rule.frequency === 'WEEKLY') return { ...rule, weekdays: [{ weekday: 0, place: null }] };
  return { ...rule, monthDays: [1], months: rule.months ?? (rule.frequency === 'YEARLY' ? [1] : null) };
}

/** How many days of a rule fall into one of its periods at most, in whatever year; 0 where it never comes. */
export function mostInOnePeriod(rule: RuleDays): number {
  const whole = withDays(rule);
  const counts = new Map<number, number>();
  for (const day of daysOfCalendar()) {
    if (!isOf(whole, day)) continue;
    const period = PERIOD[rule.frequency](day);
    counts.set(period, (counts.get(period) ?? 0) + 1);
  }
  return Math.max(0, ...counts.values());
}
