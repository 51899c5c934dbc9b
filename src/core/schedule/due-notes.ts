import { DAY_MS } from '@/core/time/units';
import { runsThrough } from './cron-times';
import { cronInWords } from './cron-words';
import { formatDuration } from '@/core/time/duration';
import { calendarInWords } from './calendar-words';
import { expressionLines, type TimesSchedule } from './schedule';
import { clockChange, wallAt } from '@/core/time/zone-time';

const NEAR_MS = DAY_MS;

function clock(at: number, zone: string): string {
  const { hour, minute } = wallAt(at, zone);
  return `${String(hour).padStart(2, '0')}:${String(minute).padStart(2, '0')}`;
}

/** What happens to a due time next to a change of the clocks, in a sentence; null where none is near. */
export function changeNote({ type, zone, expression }: TimesSchedule, due: number): string | null {
  const change = clockChange(due - NEAR_MS, due + NEAR_MS, zone);
  if (!change) return null;
  const from = clock(change.at - 1, zone);
  const to = clock(change.at, zone);
  const by = formatDuration(Math.abs(change.byMs));
  // What holds for the lines of this schedule: by the hour that passes, or by the one that is shown.
  const open = type === 'cron' && expressionLines(expression).every(runsThrough);
  if (change.byMs > 0) {
    const skipped =
      type === 'cron' && !open
        ? 'a time in between is due right after the jump'
        : 'a time in between is not due that day';
    return `Clocks go forward by ${by} after ${from}, to ${to}: ${skipped}.`;
  }
  const doubled = open
    ? 'it goes on through both hours that are shown alike'
    : 'a time that is shown twice is due once, the first time';
  return `Clocks go back by ${by} after ${from}, to ${to}: ${doubled}.`;
}

/** What an expression means, line by line; null where a line has no words. */
export function timesInWords({ type, expression, dialect }: TimesSchedule): string | null {
  const lines = expressionLines(expression).map((line) =>
    type === 'cron' ? cronInWords(line, dialect) : calendarInWords(line),
  );
  return lines.length === 0 || lines.includes(null) ? null : lines.join('; and ');
}
