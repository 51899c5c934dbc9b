import { MINUTE_MS } from '@/core/time/units';
import { wallMsOf, wallText } from './wall';

export const REPEATS = [
  'once',
  'daily',
  'weekly',
  'monthly-day',
  'monthly-weekday',
  'yearly',
  'own',
] as const;
export type Repeats = (typeof REPEATS)[number];

/** How something repeats as a person chooses it; the rest comes from when it begins first. */
export interface RuleChoice {
  repeats: Repeats;
  /** For each week: "MO", "SU". Empty: the day it begins first. */
  days: string[];
  /** Every so many days, weeks, months or years. */
  every: number;
  ends: 'never' | 'on' | 'after';
  /** The last day, "2027-12-31". */
  lastDay: string;
  /** So many times in all. */
  times: number;
  /** A rule of one's own. */
  rule: string;
}

export const ONCE: RuleChoice = {
  repeats: 'once',
  days: [],
  every: 1,
  ends: 'never',
  lastDay: '',
  times: 10,
  rule: '',
};

export const RULE_DAYS = ['MO', 'TU', 'WE', 'TH', 'FR', 'SA', 'SU'] as const;
const DAY_NAMES = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday'];
const PLACES = ['first', 'second', 'third', 'fourth', 'last'];

/** Which weekday a wall clock's day is, from Monday as 0; its day of the month; its place among its weekday's days. */
function dayOf(wall: string): { weekday: number; day: number; place: number } | null {
  const ms = wallMsOf(wall);
  if (Number.isNaN(ms)) return null;
  const date = new Date(ms);
  const day = date.getUTCDate();
  return { weekday: (date.getUTCDay() + 6) % 7, day, place: Math.min(4, Math.floor((day - 1) / 7)) };
}

/** What can be chosen in words, by when it begins first. */
export function repeatWords(wall: string): { value: Repeats; text: string }[] {
  const day = dayOf(wall);
  const weekday = day ? DAY_NAMES[day.weekday]! : 'that weekday';
  return [
    { value: 'once', text: 'Once' },
    { value: 'daily', text: 'Every day' },
    { value: 'weekly', text: 'Every week' },
    { value: 'monthly-day', text: day ? `Every month on day ${day.day}` : 'Every month on that day' },
    {
      value: 'monthly-weekday',
      text: day ? `Every month on the ${PLACES[day.place]} ${weekday}` : 'Every month on that weekday',
    },
    { value: 'yearly', text: 'Every year' },
    { value: 'own', text: 'By a rule (RFC 5545)' },
  ];
}

const FREQUENCY: Partial<Record<Repeats, string>> = {
  daily: 'DAILY',
  weekly: 'WEEKLY',
  'monthly-day': 'MONTHLY',
  'monthly-weekday': 'MONTHLY',
  yearly: 'YEARLY',
};

/** The rule of a choice (RFC 5545, 3.3.10); null for what comes once. */
export function ruleOf(choice: RuleChoice, wall: string): string | null {
  if (choice.repeats === 'once') return null;
  if (choice.repeats === 'own') return choice.rule;
  const day = dayOf(wall);
  const parts = [`FREQ=${FREQUENCY[choice.repeats]}`];
  if (choice.every > 1) parts.push(`INTERVAL=${choice.every}`);
  if (choice.repeats === 'weekly' && choice.days.length > 0) {
    parts.push(`BYDAY=${RULE_DAYS.filter((one) => choice.days.includes(one)).join(',')}`);
  }
  if (choice.repeats === 'monthly-weekday' && day) {
    parts.push(`BYDAY=${day.place === 4 ? -1 : day.place + 1}${RULE_DAYS[day.weekday]}`);
  }
  if (choice.ends === 'on' && choice.lastDay) parts.push(`UNTIL=${choice.lastDay.replaceAll('-', '')}`);
  if (choice.ends === 'after') parts.push(`COUNT=${choice.times}`);
  return parts.join(';');
}

/** The parts of a rule as it is kept, by name. */
export const keptParts = (rule: string): ReadonlyMap<string, string> =>
  new Map(rule.split(';').map((part) => part.split('=') as [string, string]));

/** The choice a rule came from; a rule that no choice makes is one's own. */
export function choiceOf(rule: string, wall: string): RuleChoice {
  const parts = keptParts(rule);
  const until = parts.get('UNTIL') ?? '';
  const ends = until ? 'on' : parts.has('COUNT') ? 'after' : 'never';
  const shared: RuleChoice = {
    ...ONCE,
    every: Number(parts.get('INTERVAL') ?? 1),
    ends,
    lastDay: until.slice(0, 8).replace(/(\d{4})(\d\d)(\d\d)/, '$1-$2-$3'),
    times: Number(parts.get('COUNT') ?? ONCE.times),
    days: parts.get('FREQ') === 'WEEKLY' ? (parts.get('BYDAY')?.split(',') ?? []) : [],
  };
  const sorted = (text: string | null) => text?.split(';').sort().join(';');
  const made = REPEATS.map((repeats) => ({ ...shared, repeats })).find(
    (choice) => choice.repeats !== 'own' && sorted(ruleOf(choice, wall)) === sorted(rule),
  );
  return made ?? { ...ONCE, repeats: 'own', rule };
}

/** How long something lasts by the wall clock, in minutes; null where its end does not come after its beginning. */
export function minutesBetween(from: string, until: string): number | null {
  const minutes = (wallMsOf(until) - wallMsOf(from)) / MINUTE_MS;
  return minutes > 0 ? minutes : null;
}

/** When a wall clock shows so many minutes more. */
export function wallPlus(wall: string, minutes: number): string {
  const ms = wallMsOf(wall);
  return Number.isNaN(ms) ? '' : wallText(ms + minutes * MINUTE_MS);
}
