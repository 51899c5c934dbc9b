import { Cron } from 'croner';

/**
 * When a job is expected. A period promises that no more than `everyMs` passes between two check-ins; a cron
 * schedule names wall-clock times in a time zone.
 */
export type Schedule = { type: 'period'; everyMs: number } | CronSchedule;

export interface CronSchedule {
  type: 'cron';
  expression: string;
  zone: string;
}

const parsed = new Map<string, Cron>();

function cronOf(expression: string, zone: string): Cron {
  const key = `${zone} ${expression}`;
  let cron = parsed.get(key);
  if (!cron) {
    cron = new Cron(expression, { timezone: zone, paused: true, mode: '5-part' });
    if (parsed.size > 5000) parsed.clear();
    parsed.set(key, cron);
  }
  return cron;
}

export function isTimeZone(zone: string): boolean {
  try {
    new Intl.DateTimeFormat('en', { timeZone: zone });
    return zone.length > 0;
  } catch {
    return false;
  }
}

/** Why a cron expression cannot be used, in a sentence, or null when it can. */
export function cronProblem(expression: string, zone: string): string | null {
  const fields = expression.trim().split(/\s+/);
  if (!expression.trim().startsWith('@') && fields.length !== 5) {
    return `Expected five fields (minute hour day month weekday), got ${expression.trim() === '' ? 0 : fields.length}.`;
  }
  if (!isTimeZone(zone)) return `Expected a time zone such as Europe/Lisbon, got "${zone}".`;
  try {
    return cronOf(expression, zone).nextRun(new Date(0)) ? null : 'This expression never comes due.';
  } catch (error) {
    const reason = error instanceof Error ? error.message.replace(/^CronPattern: /, '') : String(error);
    return `This cron expression cannot be read: ${reason}.`;
  }
}

/**
 * The first due time strictly after `after`, or null when there is none. A cron time that daylight saving
 * skips is due once, right after the jump; one that it doubles is due once, at the first passing.
 */
export function nextDue(schedule: Schedule, after: number): number | null {
  if (schedule.type === 'period') return after + schedule.everyMs;
  return cronOf(schedule.expression, schedule.zone).nextRun(new Date(after))?.getTime() ?? null;
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
  cron?: CronSchedule;
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
