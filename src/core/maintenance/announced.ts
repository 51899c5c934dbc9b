import { DAY_MS } from '@/core/time/units';

/** Since when the public may know of planned time: so many days ahead, never before it was planned, nor after it began. */
export function announcedAt(window: { begins: number; madeAt: number; announceDays: number }): number {
  const { begins, madeAt, announceDays } = window;
  return Math.min(begins, Math.max(madeAt, begins - announceDays * DAY_MS));
}
