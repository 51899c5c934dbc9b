import { MINUTE_MS } from './units';

/** What is said of a moment with its day, to the second. */
export const TO_THE_SECOND = {
  weekday: 'short',
  day: 'numeric',
  month: 'short',
  hour: '2-digit',
  minute: '2-digit',
  second: '2-digit',
  hourCycle: 'h23',
} as const;

/** A moment as "Tue 24 Nov, 02:30" in a zone, to the second where asked for; `UTC` when the zone is empty. */
export function formatClock(at: number, zone: string, toTheSecond = false): string {
  const parts = new Intl.DateTimeFormat('en-GB', {
    ...TO_THE_SECOND,
    timeZone: zone || 'UTC',
  }).formatToParts(at);
  const get = (type: string) => parts.find((p) => p.type === type)?.value ?? '';
  return `${get('weekday')} ${get('day')} ${get('month')}, ${get('hour')}:${get('minute')}${
    toTheSecond ? `:${get('second')}` : ''
  }`;
}

/** Whether minutes do not tell the ends of a stretch of time apart, so that seconds are needed. */
export function needsSeconds(from: number, to: number): boolean {
  return to - from < 2 * MINUTE_MS;
}
