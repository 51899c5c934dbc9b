import cronstrue from 'cronstrue';
import { cronFields, daysMustBothHold, type CronDialect } from './cron-times';

/** A cron expression in words, or null when it has none. */
export function cronInWords(expression: string, dialect: CronDialect = 'usual'): string | null {
  try {
    const words = cronstrue.toString(expression, { use24HourTimeFormat: true, verbose: false });
    const [, , day, , weekday] = cronFields(expression);
    if (day === '*' || weekday === '*') return words;
    return daysMustBothHold(expression, dialect)
      ? `${words} (both the day of the month and the weekday must fit)`
      : `${words} (either the day of the month or the weekday is enough)`;
  } catch {
    return null;
  }
}
