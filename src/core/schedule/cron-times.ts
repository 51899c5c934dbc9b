import { DAY_MS } from '@/core/time/units';
import { Cron } from 'croner';
import { clockChange, momentsOf, wallAt, wallMs, wallOf } from '@/core/time/zone-time';

/**
 * Whose rules an expression follows where crons differ. Usually a day of the month and a weekday that are both named are
 * two ways to be due, whatever they begin with. Debian's cron (as all that come from Vixie's) takes a field that begins
 * with `*`, also with a step behind it, for one that is left open: then both must hold (crontab(5)).
 */
export type CronDialect = 'usual' | 'debian';

const SHORTHANDS: Record<string, string> = {
  '@yearly': '0 0 1 1 *',
  '@annually': '0 0 1 1 *',
  '@monthly': '0 0 1 * *',
  '@weekly': '0 0 * * 0',
  '@daily': '0 0 * * *',
  '@midnight': '0 0 * * *',
  '@hourly': '0 * * * *',
};

/** The five fields of an expression. */
export function cronFields(expression: string): string[] {
  const line = expression.trim();
  return (SHORTHANDS[line.toLowerCase()] ?? line).split(/\s+/);
}

/** Whether a day of the month and a weekday must both hold. */
export function daysMustBothHold(expression: string, dialect: CronDialect): boolean {
  const [, , day = '', , weekday = ''] = cronFields(expression);
  return dialect === 'debian' && (day.startsWith('*') || weekday.startsWith('*'));
}

const MOST_KEPT = 5000;
const patterns = new Map<string, Cron>();

/** The pattern by itself, on a clock that never changes. Throws where the expression cannot be read. */
export function cronPattern(expression: string, dialect: CronDialect = 'usual'): Cron {
  const key = `${dialect} ${expression}`;
  let pattern = patterns.get(key);
  if (!pattern) {
    const domAndDow = daysMustBothHold(expression, dialect);
    pattern = new Cron(cronFields(expression).join(' '), {
      // A zone by its name, be it UTC, would be asked of the calendar at every step.
      utcOffset: 0,
      paused: true,
      mode: '5-part',
      domAndDow,
    });
    if (patterns.size >= MOST_KEPT) patterns.clear();
    patterns.set(key, pattern);
  }
  return pattern;
}

/** Whether minutes or hours are left open: such jobs run by the hour that passes, not by the one that is shown. */
export function runsThrough(expression: string): boolean {
  const [minute = '', hour = ''] = cronFields(expression);
  return minute.startsWith('*') || hour.startsWith('*');
}

/** The first reading of the wall clock after `wall` that fits, both as if they were UTC. */
function nextWall(pattern: Cron, wall: number): number | null {
  return pattern.nextRun(new Date(wall))?.getTime() ?? null;
}

/** When a wall clock that was turned forward shows the first time after the one that is skipped. */
function afterJump(wall: number, zone: string): number {
  // A reading that is never shown lies within the change: one day on either side sees it.
  return clockChange(wall - DAY_MS, wall + DAY_MS, zone)?.at ?? wall;
}

/**
 * The first due time of a cron expression strictly after `after` (ms since 1970), or null. What cron does when clocks
 * change (crontab(5), cron(8)): a time that is named (minutes and hours by lists, ranges or steps of those) is due once:
 * where it is shown twice, the first time; where it is skipped, right after the jump. What is left open (a minute or an
 * hour that begins with `*`) goes on through both hours that are shown alike, and skips what is not shown.
 */
export function nextCron(
  expression: string,
  zone: string,
  after: number,
  dialect: CronDialect = 'usual',
): number | null {
  const pattern = cronPattern(expression, dialect);
  return runsThrough(expression) ? nextOpen(pattern, zone, after) : nextNamed(pattern, zone, after);
}

function nextNamed(pattern: Cron, zone: string, after: number): number | null {
  let wall = nextWall(pattern, wallMs(wallAt(after, zone)));
  while (wall !== null) {
    const [first] = momentsOf(wallOf(wall), zone);
    const at = first ?? afterJump(wall, zone);
    if (at > after) return at;
    // Shown for the second time, or made up for by an earlier one at the same jump.
    wall = nextWall(pattern, wall);
  }
  return null;
}

function nextOpen(pattern: Cron, zone: string, after: number): number | null {
  let wall = nextWall(pattern, wallMs(wallAt(after, zone)));
  while (wall !== null) {
    const at = momentsOf(wallOf(wall), zone).find((moment) => moment > after);
    if (at !== undefined) return earlierShownAgain(pattern, zone, after, at);
    wall = nextWall(pattern, wall);
  }
  return null;
}

/** Where clocks go back between two due times, the hour that is shown again may hold one that comes sooner. */
function earlierShownAgain(pattern: Cron, zone: string, after: number, at: number): number {
  const change = clockChange(after, at, zone);
  if (!change || change.byMs > 0) return at;
  const wall = wallMs(wallAt(change.at, zone));
  const again = nextWall(pattern, wall - 1000);
  if (again === null) return at;
  const moment = change.at + (again - wall);
  return moment > after && moment < at ? moment : at;
}
