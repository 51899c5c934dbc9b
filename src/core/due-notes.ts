import { cronInWords } from './cron-words';
import { formatDuration } from './duration';
import { calendarInWords } from './calendar-words';
import { expressionLines, type TimesSchedule } from './schedule';
import { clockChange, wallAt } from './zone-time';

const NEAR_MS = 24 * 3_600_000;

function clock(at: number, zone: string): string {
  const { hour, minute } = wallAt(at, zone);
  return `${String(hour).padStart(2, '0')}:${String(minute).padStart(2, '0')}`;
}

/** What happens to a due time next to a change of the clocks, in a sentence; null where none is near. */
export function changeNote({ type, zone }: TimesSchedule, due: number): string | null {
  const change = clockChange(due - NEAR_MS, due + NEAR_MS, zone);
  if (!change) return null;
  const from = clock(change.at - 1, zone);
  const to = clock(change.at, zone);
  const by = formatDuration(Math.abs(change.byMs));
  if (change.byMs > 0) {
    const skipped =
      type === 'cron'
        ? 'a time in between is due right after the jump'
        : 'a time in between is not due that day';
    return `Clocks go forward by ${by} after ${from}, to ${to}: ${skipped}.`;
  }
  return `Clocks go back by ${by} after ${from}, to ${to}: a time that is shown twice is due once, the first time.`;
}

/** What an expression means, line by line; null where a line has no words. */
export function timesInWords({ type, expression }: TimesSchedule): string | null {
  const lines = expressionLines(expression).map((line) =>
    type === 'cron' ? cronInWords(line) : calendarInWords(line),
  );
  return lines.length === 0 || lines.includes(null) ? null : lines.join('; and ');
}
