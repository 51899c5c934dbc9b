import cronstrue from 'cronstrue';

/** A cron expression in words, or null when it has none. */
export function cronInWords(expression: string): string | null {
  try {
    return cronstrue.toString(expression, { use24HourTimeFormat: true, verbose: false });
  } catch {
    return null;
  }
}
