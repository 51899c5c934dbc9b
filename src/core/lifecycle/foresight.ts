import { formatDuration } from '@/core/time/duration';
import type { Rules } from './status';

/**
 * How soon at the latest a person would know of trouble, in milliseconds. Probe: it may break right after a
 * fine look began, so one interval, then a look that uses its whole time, then each second look with its
 * gap. Check-in with a period: the period and the leeway; with cron: the leeway, counted from the due time.
 */
export function knowWithinMs(rules: Rules): number {
  if (rules.type === 'probe') {
    return rules.everyMs + rules.timeoutMs + rules.secondLooks * (rules.secondLookGapMs + rules.timeoutMs);
  }
  return rules.schedule.type === 'period' ? rules.schedule.everyMs + rules.leewayMs : rules.leewayMs;
}

/** The same as a sentence for the form. */
export function knowWithinSentence(rules: Rules): string {
  if (rules.type === 'probe' && rules.cron) {
    const { timeoutMs, secondLooks, secondLookGapMs } = rules;
    const sure = timeoutMs + secondLooks * (secondLookGapMs + timeoutMs);
    return `You would know within ${formatDuration(sure)} of the look that finds it.`;
  }
  if (rules.type === 'checkin' && rules.schedule.type !== 'period') {
    return rules.leewayMs === 0
      ? 'You would know as soon as a due time passes without a check-in.'
      : `You would know within ${formatDuration(rules.leewayMs)} of a due time.`;
  }
  return `You would know within ${formatDuration(knowWithinMs(rules))}.`;
}

/** What looking this often means for the target, as a sentence. `every` is in seconds. */
export function looksPerDaySentence(every: number): string {
  const perDay = 86_400 / every;
  if (perDay < 1) return `The target is asked once in ${formatDuration(every * 1000)}.`;
  const looks = Math.round(perDay);
  return `The target is asked ${looks === 1 ? 'once' : `${looks.toLocaleString('en-GB')} times`} a day.`;
}
