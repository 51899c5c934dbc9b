import { backoffMs } from '@/core/time/backoff';
const FREE_FAILURES = 3;
const FIRST_WAIT_MS = 1000;
const LONGEST_WAIT_MS = 5 * 60_000;
/** Many clients at one account: it may take so many more tries before it waits, and waits no longer than this. */
const FREE_OF_MANY = 20;
const LONGEST_FOR_ALL_MS = 60_000;
/** After this long without a failure, earlier ones are forgotten. */
export const FORGET_FAILURES_MS = 60 * 60_000;

/** Failed sign-ins of one client at one account, the last of them at `lastAt`. */
export interface Failures {
  email: string;
  client: string;
  count: number;
  lastAt: number;
}

function waitAfter(count: number, lastAt: number, free: number, longest: number, now: number): number {
  if (count <= free) return 0;
  const wait = backoffMs(count - free, { firstMs: FIRST_WAIT_MS, longestMs: longest });
  return Math.max(0, lastAt + wait - now);
}

function sum(rows: readonly Failures[]): { count: number; lastAt: number } {
  return {
    count: rows.reduce((total, row) => total + row.count, 0),
    lastAt: Math.max(0, ...rows.map((row) => row.lastAt)),
  };
}

/**
 * How long the next try has to wait, in milliseconds. What a client did counts against that client: nothing after
 * three failures, then doubling from one second to five minutes. An account waits only for what goes beyond its worst
 * client, so that nobody who merely knows the e-mail address can lock its owner out, and never towards a client its
 * owner signed in from before.
 */
export function signInWaitMs(
  failures: readonly Failures[],
  { email, client, known }: { email: string; client: string; known: boolean },
  now: number,
): number {
  // A clock that was set back must not make anybody wait for it to come again.
  const fresh = failures
    .filter((row) => now - row.lastAt <= FORGET_FAILURES_MS)
    .map((row) => ({ ...row, lastAt: Math.min(row.lastAt, now) }));
  const own = sum(fresh.filter((row) => row.client === client));
  const ownWait = waitAfter(own.count, own.lastAt, FREE_FAILURES, LONGEST_WAIT_MS, now);
  if (known) return ownWait;
  const account = fresh.filter((row) => row.email === email);
  const all = sum(account);
  const beyond = all.count - Math.max(0, ...account.map((row) => row.count));
  return Math.max(ownWait, waitAfter(beyond, all.lastAt, FREE_OF_MANY, LONGEST_FOR_ALL_MS, now));
}

/** One household or office behind IPv6 has a whole /64: its addresses count as one client. */
export function throttledClient(address: string): string {
  if (!address.includes(':') || address.startsWith('::ffff:')) return address;
  const [head = '', tail] = address.split('%', 1)[0]!.split('::');
  const left = head.split(':').filter(Boolean);
  const right = (tail ?? '').split(':').filter(Boolean);
  const middle =
    tail === undefined ? [] : Array<string>(Math.max(0, 8 - left.length - right.length)).fill('0');
  return `${[...left, ...middle, ...right].slice(0, 4).join(':')}::/64`;
}
