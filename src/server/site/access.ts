import { createHmac, timingSafeEqual } from 'node:crypto';
import type { IncomingMessage } from 'node:http';
import { cookieValue } from '@/accounts/cookie';
import { isPassword } from '@/accounts/passwords';
import { signInWaitMs, throttledClient, type Failures } from '@/core/limits/sign-in-throttle';
import { readBounded } from '@/outside/read';
import type { Page } from '@/store/pages/pages';

/** Whoever knew the password does not type it again for so long. */
const OPEN_MS = 30 * 24 * 3_600_000;
/** Failures of so many clients are remembered; who was seen longest ago is forgotten first. */
const MOST_REMEMBERED = 10_000;

function cookieOf({ id }: Page): string {
  return `lantern_page_${id}`;
}

/** Signed with what the password is kept as: whoever changes it shuts out everybody who knew the old one. */
function signed({ id, passwordHash }: Page, until: number): string {
  const mark = createHmac('sha256', passwordHash ?? '')
    .update(`${id}.${until}`)
    .digest('base64url');
  return `${until}.${mark}`;
}

/** Whether a request carries what the password of a page opened. */
export function isOpened(page: Page, cookies: string | undefined, now: number): boolean {
  const value = cookieValue(cookies, cookieOf(page));
  const until = Number(value?.split('.', 1)[0]);
  if (!value || !Number.isSafeInteger(until) || until < now || page.passwordHash === null) return false;
  const [got, expected] = [Buffer.from(value), Buffer.from(signed(page, until))];
  return got.length === expected.length && timingSafeEqual(got, expected);
}

/** The cookie that opens a page, for that page alone. */
export function openingCookie(page: Page, path: string, encrypted: boolean, now: number): string {
  const parts = [
    `${cookieOf(page)}=${signed(page, now + OPEN_MS)}`,
    `Path=${path}`,
    `Max-Age=${OPEN_MS / 1000}`,
    'HttpOnly',
    'SameSite=Lax',
  ];
  return [...parts, ...(encrypted ? ['Secure'] : [])].join('; ');
}

export const MOST_PASSWORD_BYTES = 4096;
const PASSWORD_LIMIT_MS = 10_000;

/** The password a form was sent with; empty where nothing of the kind came. */
export async function readPassword(request: IncomingMessage): Promise<string> {
  const bounds = { mostBytes: MOST_PASSWORD_BYTES, withinMs: PASSWORD_LIMIT_MS };
  const sent = await readBounded(request, bounds).catch(() => null);
  return sent ? (new URLSearchParams(sent.toString('utf8')).get('password') ?? '') : '';
}

export type Tried = 'right' | 'wrong' | { waitMs: number };

/** Tries passwords of pages: who fails waits longer each time, and a page that many fail at waits for new ones. */
export class PagePasswords {
  private readonly failures = new Map<string, Failures>();

  constructor(private readonly now: () => number) {}

  async try(page: Page, client: string, password: string): Promise<Tried> {
    const who = { email: String(page.id), client: throttledClient(client) };
    const waitMs = signInWaitMs([...this.failures.values()], { ...who, known: false }, this.now());
    if (waitMs > 0) return { waitMs };
    const key = `${who.email} ${who.client}`;
    // Noted before it is known to be wrong, so that many at once count as many.
    const before = this.failures.get(key);
    this.failures.delete(key);
    this.failures.set(key, { ...who, count: (before?.count ?? 0) + 1, lastAt: this.now() });
    for (const oldest of this.failures.keys()) {
      if (this.failures.size <= MOST_REMEMBERED) break;
      this.failures.delete(oldest);
    }
    if (!page.passwordHash || !(await isPassword(password, page.passwordHash))) return 'wrong';
    this.failures.delete(key);
    return 'right';
  }
}
