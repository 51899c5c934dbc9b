import { backoffMs } from '@/core/time/backoff';
import { DAY_MS } from '@/core/time/units';
export interface RoutableChannel {
  id: number;
  enabled: boolean;
}

/**
 * Which channels hear of a watch's trouble. There is one route: everything goes to every connected channel.
 * Returns channel ids in a stable order.
 */
export function channelsFor(channels: readonly RoutableChannel[]): number[] {
  return channels
    .filter((channel) => channel.enabled)
    .map((channel) => channel.id)
    .sort((a, b) => a - b);
}

const FIRST_RETRY_MS = 5_000;
export const LONGEST_RETRY_MS = 30 * 60_000;
/** After this long without success a delivery is given up and shown as such. */
export const GIVE_UP_AFTER_MS = 3 * DAY_MS;

/** How long to wait before attempt number `attempts` + 1: doubling from 5 s to half an hour. */
export function retryDelayMs(attempts: number): number {
  return backoffMs(attempts, { firstMs: FIRST_RETRY_MS, longestMs: LONGEST_RETRY_MS });
}
