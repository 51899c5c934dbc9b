import { isOurOwnFault, type CauseCode } from '@/core/causes/causes';
import { nextDue } from '@/core/schedule/schedule';
import { scheduleOf, type CheckinConfig, type WatchConfig } from '@/core/settings/watch-config';
import type { Status } from './status';

/** What decides whether a watch wants a hand. */
export interface Standing {
  config: WatchConfig;
  createdAt: number;
  status: Status;
  lastFinding: { cause?: CauseCode | null } | null;
}

/** Lateness wants a hand only after half the leeway, at most this long: a job takes its time to run. */
const PATIENCE_MS = 10 * 60_000;
/** Whatever time it is. */
const EVER = 0;

/** By when a job should have been heard of for the first time. */
export function firstDeadline({ schedule, leeway }: CheckinConfig, createdAt: number): number | null {
  const due = nextDue(scheduleOf(schedule), createdAt);
  return due === null ? null : due + leeway * 1000;
}

/** Behind which time a check-in that was never heard of should have been; null for any other watch. */
export function silentFrom({ config, createdAt, status }: Omit<Standing, 'lastFinding'>): number | null {
  if (config.type !== 'checkin' || status.state !== 'waiting' || status.lastAt !== null) return null;
  return firstDeadline(config, createdAt);
}

/** Behind which time a watch wants a hand, if it stays as it is; null for never. */
export function wantsFrom(standing: Standing): number | null {
  const { config, status, lastFinding } = standing;
  const { state, since } = status;
  if (state === 'overdue' && config.type === 'checkin') {
    return since + Math.min(PATIENCE_MS, (config.leeway * 1000) / 2);
  }
  if (state === 'paused' || state === 'maintenance') return null;
  const cause = lastFinding?.cause ?? undefined;
  const blind = isOurOwnFault(cause) && cause !== 'look.no-line';
  const warned = state === 'slow' && Boolean(status.warned);
  if (state === 'down' || state === 'doubtful' || warned || blind) return EVER;
  return silentFrom(standing);
}

export function needsHand(standing: Standing, now: number): boolean {
  const from = wantsFrom(standing);
  return from !== null && now > from;
}

/** A check-in that was never heard of although it should have been by now. */
export function isSilent(standing: Omit<Standing, 'lastFinding'>, now: number): boolean {
  const from = silentFrom(standing);
  return from !== null && now > from;
}
