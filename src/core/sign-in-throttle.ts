const FREE_FAILURES = 3;
const FIRST_WAIT_MS = 1000;
const LONGEST_WAIT_MS = 5 * 60_000;
/** After this long without a failure, earlier ones are forgotten. */
export const FORGET_FAILURES_MS = 60 * 60_000;

/**
 * How long the next try has to wait after so many failures in a row, the last of them at `lastAt`: nothing
 * after three, then doubling from one second to five minutes.
 */
export function signInWaitMs(failures: { count: number; lastAt: number } | null, now: number): number {
  if (!failures || failures.count <= FREE_FAILURES || now - failures.lastAt > FORGET_FAILURES_MS) return 0;
  const wait = Math.min(LONGEST_WAIT_MS, FIRST_WAIT_MS * 2 ** (failures.count - FREE_FAILURES - 1));
  return Math.max(0, failures.lastAt + wait - now);
}
