import { CalendarError, parseCalendar, type CalendarEvent } from './calendar';
import { nextCalendar } from './next-calendar';
import { cronFields, cronPattern, nextCron, type CronDialect } from './cron-times';
import { dateAt, isTimeZone, momentsOf, wallAt } from '@/core/time/zone-time';

/**
 * When a job is expected. A period promises that no more than `everyMs` passes between two check-ins; times are
 * those of a wall clock in a time zone.
 */
export type Schedule = { type: 'period'; everyMs: number } | TimesSchedule;

/** Times as cron writes them (crontab(5)) or as calendar events (systemd.time(7)). */
export interface TimesSchedule {
  type: 'cron' | 'calendar';
  /** Several expressions stand one a line; a time that any of them names is due. */
  expression: string;
  zone: string;
  /** Whose cron it is, where crons differ. */
  dialect?: CronDialect;
  /** Days ("2026-12-25", as the zone's calendar has them) on which nothing is due. */
  daysOff?: readonly string[];
}

const MOST_KEPT = 5000;
const calendars = new Map<string, CalendarEvent>();

function keep<T>(map: Map<string, T>, key: string, make: () => T): T {
  let value = map.get(key);
  if (value === undefined) {
    value = make();
    if (map.size >= MOST_KEPT) map.clear();
    map.set(key, value);
  }
  return value;
}

function nextOfLine({ type, zone, dialect }: TimesSchedule, line: string, after: number): number | null {
  if (type === 'cron') return nextCron(line, zone, after, dialect);
  return nextCalendar(
    keep(calendars, line, () => parseCalendar(line)),
    after,
    zone,
  );
}

/** The expressions of a schedule, without empty lines and comments. */
export function expressionLines(expression: string): string[] {
  return expression
    .split('\n')
    .map((line) => line.trim())
    .filter((line) => line !== '' && !line.startsWith('#'));
}

const CRON_FIELDS = [
  { name: 'minute', allowed: '0 to 59' },
  { name: 'hour', allowed: '0 to 23' },
  { name: 'day of the month', allowed: '1 to 31, or L for the last' },
  { name: 'month', allowed: '1 to 12, or Jan to Dec' },
  { name: 'weekday', allowed: '0 to 7, Sun to Sat, 5#3 for the third Friday, or 5L for the last one' },
] as const;

/** Which of the five fields cannot be read, with where it begins (in characters from 1). */
function wrongField(line: string): string | null {
  const fields = [...line.matchAll(/\S+/g)];
  for (const [i, { name, allowed }] of CRON_FIELDS.entries()) {
    const alone = CRON_FIELDS.map((_, other) => (other === i ? fields[i]![0] : '*')).join(' ');
    try {
      cronPattern(alone);
    } catch {
      return (
        `Expected ${name === 'hour' ? 'an' : 'a'} ${name} (${allowed}; with lists a,b, ranges a-b and steps */n) ` +
        `at character ${fields[i]!.index + 1}, got “${fields[i]![0]}”.`
      );
    }
  }
  return null;
}

function cronLineProblem(line: string, dialect: CronDialect | undefined): string | null {
  if (/^@reboot$/i.test(line)) return 'Expected times; @reboot has none. Choose a period, or none but notes.';
  const fields = cronFields(line);
  if (!line.startsWith('@') && fields.length !== 5) {
    const remedy =
      fields.length === 6 ? ' Leave out the seconds, or the user or command behind the times.' : '';
    return `Expected five fields (minute hour day month weekday), got ${fields.length}.${remedy}`;
  }
  try {
    return cronPattern(line, dialect).nextRun(new Date(0)) ? null : 'This expression never comes due.';
  } catch (error) {
    const reason = error instanceof Error ? error.message.replace(/^CronPattern: /, '') : String(error);
    return (
      (line.startsWith('@') ? null : wrongField(line)) ?? `This cron expression cannot be read: ${reason}.`
    );
  }
}

function calendarLineProblem(line: string, zone: string, now: number): string | null {
  try {
    const event = keep(calendars, line, () => parseCalendar(line));
    return nextCalendar(event, now, zone) === null ? 'This expression never comes due any more.' : null;
  } catch (error) {
    if (!(error instanceof CalendarError)) throw error;
    return `${error.message.replace(/\.$/, '')}, at character ${error.position + 1}.`;
  }
}

/**
 * Why times cannot be used, in a sentence that says where and what was expected, or null when they can. `now` is
 * from when on an expression has to come due.
 */
export function timesProblem(
  { type, expression, zone, dialect, daysOff = [] }: TimesSchedule,
  now = 0,
): string | null {
  const lines = expressionLines(expression);
  if (lines.length === 0) {
    return type === 'cron'
      ? 'Expected five fields (minute hour day month weekday), got 0.'
      : 'Expected a calendar event such as Mon..Fri 06:30, got nothing.';
  }
  if (!isTimeZone(zone)) return `Expected a time zone such as Europe/Lisbon, got "${zone}".`;
  for (const [i, line] of lines.entries()) {
    const problem = type === 'cron' ? cronLineProblem(line, dialect) : calendarLineProblem(line, zone, now);
    if (problem) return lines.length > 1 ? `Line ${i + 1}: ${problem}` : problem;
  }
  const strange = daysOff.find((day) => !isDay(day));
  return strange === undefined ? null : `Expected days off such as 2026-12-25, got “${strange}”.`;
}

/** Whether a text is a day of the calendar, as "2026-12-25" (ISO 8601). */
export function isDay(text: string): boolean {
  const at = Date.parse(`${text}T00:00:00Z`);
  return /^\d{4}-\d\d-\d\d$/.test(text) && !Number.isNaN(at) && new Date(at).toISOString().startsWith(text);
}

/** Why a cron expression cannot be used, in a sentence, or null when it can. */
export function cronProblem(expression: string, zone: string): string | null {
  return timesProblem({ type: 'cron', expression, zone });
}

function startOfNextDay(at: number, zone: string): number {
  const { year, month, day } = wallAt(at, zone);
  const next = new Date(Date.UTC(year, month - 1, day + 1));
  const wall = {
    year: next.getUTCFullYear(),
    month: next.getUTCMonth() + 1,
    day: next.getUTCDate(),
    hour: 0,
    minute: 0,
    second: 0,
  };
  // Where midnight is skipped, the day begins an hour later.
  return momentsOf(wall, zone)[0] ?? momentsOf({ ...wall, hour: 1 }, zone)[0]!;
}

/**
 * The first due time strictly after `after`, or null when there is none. What happens where clocks change is said at
 * `nextCron`; a calendar event that is skipped is not due then, and one that is doubled is due once, at the first
 * passing. Days off have no due times.
 */
export function nextDue(schedule: Schedule, after: number): number | null {
  if (schedule.type === 'period') return after + schedule.everyMs;
  const { zone, daysOff = [], expression } = schedule;
  const lines = expressionLines(expression);
  const off = new Set(daysOff);
  for (let from = after, tries = 0; tries <= off.size; tries += 1) {
    const times = lines.map((line) => nextOfLine(schedule, line, from)).filter((at) => at !== null);
    if (times.length === 0) return null;
    const at = Math.min(...times);
    if (off.size === 0 || !off.has(dateAt(at, zone))) return at;
    from = startOfNextDay(at, zone) - 1;
  }
  return null;
}

/** The next `count` due times after `after`. */
export function nextDues(schedule: Schedule, after: number, count: number): number[] {
  const dues: number[] = [];
  for (let at: number | null = after; dues.length < count;) {
    at = nextDue(schedule, at);
    if (at === null) break;
    dues.push(at);
  }
  return dues;
}

/** How far ahead of its time a check-in may come and still count for that due time. */
const EARLIEST_MS = 5 * 60_000;

/**
 * The due time a job is expected at next, after it was heard of at `heardAt`. For cron, a check-in up to a
 * quarter of the gap (at most five minutes) early counts for the due time it precedes: clocks differ.
 */
export function expectedAfter(schedule: Schedule, heardAt: number): number | null {
  const due = nextDue(schedule, heardAt);
  if (due === null || schedule.type === 'period') return due;
  const following = nextDue(schedule, due);
  if (following === null) return due;
  const early = Math.min(EARLIEST_MS, (following - due) / 4);
  return due - heardAt <= early ? following : due;
}

/** A stable number in [0, span) from an id, to spread looks over their interval. */
export function offsetOf(id: number, span: number): number {
  // Knuth's multiplicative hash: neighbours land far apart.
  return Math.floor((((id * 2654435761) >>> 0) / 2 ** 32) * span);
}

/** The first grid point offset + k · every strictly after `after`. It does not depend on when a look ran. */
export function nextLookDue(everyMs: number, offsetMs: number, after: number): number {
  return Math.floor((after - offsetMs) / everyMs) * everyMs + everyMs + offsetMs;
}

/** When a probe looks: every `everyMs` on a grid of its own, or at the times of a cron expression. */
export interface LookPlan {
  everyMs: number;
  cron?: TimesSchedule;
}

/** When the next look is due after a moment; a cron expression that never comes due falls back on the grid. */
export function nextPlannedLook(plan: LookPlan, watchId: number, after: number): number {
  const at = plan.cron ? nextDue(plan.cron, after) : null;
  return at ?? nextLookDue(plan.everyMs, offsetOf(watchId, plan.everyMs), after);
}

const DUES_COMPARED = 6;
const stands = new Map<string, { at: number; until: number; ms: number }>();

/**
 * How long a look stands for the time after it, in milliseconds: until the next one is due, but no longer than
 * the shortest gap between the next few. A look at the end of working hours says nothing about the night.
 */
export function standsForMs({ everyMs, cron }: LookPlan, at: number): number {
  if (!cron) return everyMs;
  const key = `${cron.zone} ${cron.expression}`;
  const known = stands.get(key);
  // Asked once a look and at every tick: worked out anew only when the next due time has passed.
  if (known && at >= known.at && at < known.until) return Math.min(known.ms, known.until - at);
  const dues = nextDues(cron, at, DUES_COMPARED);
  if (dues.length === 0) return everyMs;
  const gaps = dues.slice(1).map((due, i) => due - dues[i]!);
  const ms = Math.min(...(gaps.length > 0 ? gaps : [everyMs]));
  if (stands.size > 5000) stands.clear();
  stands.set(key, { at, until: dues[0]!, ms });
  return Math.min(ms, dues[0]! - at);
}
