import { CAUSES, causeSentence } from '../core/causes';
import { formatClock } from '../core/clock-text';
import type { Rung } from '../core/finding';
import { scheduleOf } from '../core/watch-config';
import { nextDue } from '../core/schedule';
import type { Outage } from '../store/outages';
import type { WatchWithStatus } from '../store/watches';

/** What a watch that wants a hand says about itself. */
export interface Trouble {
  sentence: string;
  advice: string;
  ladder: Rung[];
}

/** A check-in that was never heard of although it should have been by now. */
export function isSilent(watch: WatchWithStatus, now: number): boolean {
  const { config, status } = watch;
  if (config.type !== 'checkin' || status.state !== 'waiting' || status.lastAt !== null) return false;
  const due = nextDue(scheduleOf(config.schedule), watch.createdAt);
  return due !== null && now > due + config.leeway * 1000;
}

/** Lateness wants a hand only after half the leeway, at most this long: a job takes its time to run. */
const PATIENCE_MS = 10 * 60_000;

export function needsHand(watch: WatchWithStatus, now: number): boolean {
  const { state, since } = watch.status;
  if (state === 'overdue' && watch.config.type === 'checkin') {
    return now - since > Math.min(PATIENCE_MS, (watch.config.leeway * 1000) / 2);
  }
  if (state === 'paused' || state === 'maintenance') return false;
  const blind = watch.lastFinding?.cause === 'look.broken';
  return state === 'down' || state === 'doubtful' || blind || isSilent(watch, now);
}

/** The sentence, advice and ladder for a watch in trouble; from its open outage or its last failed look. */
export function troubleOf(watch: WatchWithStatus, outage: Outage | undefined, zone: string): Trouble {
  const { status, lastFinding } = watch;
  if (watch.config.type === 'probe' && lastFinding?.cause) {
    return {
      sentence: causeSentence(lastFinding.cause, lastFinding.detail),
      advice: CAUSES[lastFinding.cause].advice,
      ladder: lastFinding.evidence?.ladder ?? [],
    };
  }
  if (outage) {
    return {
      sentence: causeSentence(outage.cause, outage.detail),
      advice: CAUSES[outage.cause].advice,
      ladder: outage.evidence?.ladder ?? [],
    };
  }
  if (status.state === 'overdue' && status.due !== null && watch.config.type === 'checkin') {
    const { schedule, leeway } = watch.config;
    const place = schedule.type === 'cron' ? schedule.zone : zone;
    const deadline = formatClock(status.due + leeway * 1000, place);
    return {
      sentence: `Expected at ${formatClock(status.due, place)}; counts as missed after ${deadline}.`,
      advice: 'It may only be late. Look whether the job is running.',
      ladder: [],
    };
  }
  return {
    sentence: 'No check-in has ever arrived, though one was due.',
    advice: 'Paste the ready line into the job, or run it once by hand.',
    ladder: [],
  };
}
