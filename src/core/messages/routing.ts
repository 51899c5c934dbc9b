import { backoffMs } from '@/core/time/backoff';
import { DAY_MS, MINUTE_MS } from '@/core/time/units';

const FIRST_RETRY_MS = 5_000;
export const LONGEST_RETRY_MS = 30 * 60_000;
/** After this long without success a delivery is given up and shown as such. */
export const GIVE_UP_AFTER_MS = DAY_MS;

/** How long to wait before attempt number `attempts` + 1: doubling from 5 s to half an hour. */
export function retryDelayMs(attempts: number): number {
  return backoffMs(attempts, { firstMs: FIRST_RETRY_MS, longestMs: LONGEST_RETRY_MS });
}

/** A channel that fails again and again is left alone no longer than this. */
const LONGEST_REST_MS = 5 * MINUTE_MS;
/** No channel decides for longer than this when it is tried again. */
const LONGEST_ASKED_MS = 60 * MINUTE_MS;

/** How long a channel is left alone after so many failures one after the other. */
export function restMs(failures: number): number {
  return Math.min(LONGEST_REST_MS, retryDelayMs(failures));
}

/** A wait spread by a tenth either way, so that what failed together is not tried together; `chance` is from 0 to 1. */
export function spread(ms: number, chance: number): number {
  return Math.round(ms * (0.9 + 0.2 * chance));
}

/** A wait that another side asks for, within what is borne, in ms. */
export function askedMs(ms: number): number {
  return Math.min(LONGEST_ASKED_MS, Math.max(0, ms));
}

/** What `Retry-After` asks for (RFC 9110 section 10.2.3), in ms from now; null where it says nothing that can be read. */
export function retryAfterMs(header: string | null, now: number): number | null {
  const text = header?.trim() ?? '';
  const ms = /^\d{1,9}$/.test(text) ? Number(text) * 1000 : Date.parse(text) - now;
  return text === '' || Number.isNaN(ms) ? null : askedMs(ms);
}
