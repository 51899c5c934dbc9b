import { expect, it } from 'vitest';
import { isOpened, openingCookie } from '@/server/site/access';
import type { Page } from '@/store/pages/pages';

const NOW = Date.parse('2026-11-25T12:00:00Z');
const THIRTY_DAYS = 30 * 24 * 3_600_000;
const page = (rest: Partial<Page> = {}) => ({ id: 4, passwordHash: 'scrypt$gulls', ...rest }) as Page;

it('what the password of a page opened stays open for thirty days, to whoever knew the present one, and for that page', () => {
  const parts = openingCookie(page(), '/p/ferries/', true, NOW).split('; ');
  expect(parts.slice(1)).toEqual([
    'Path=/p/ferries/',
    `Max-Age=${THIRTY_DAYS / 1000}`,
    'HttpOnly',
    'SameSite=Lax',
    'Secure',
  ]);
  expect(openingCookie(page(), '/', false, NOW)).not.toContain('Secure');
  const cookie = `other=1; ${parts[0]}`;
  expect(isOpened(page(), cookie, NOW)).toBe(true);
  expect(isOpened(page(), cookie, NOW + THIRTY_DAYS)).toBe(true);
  expect(isOpened(page(), cookie, NOW + THIRTY_DAYS + 1)).toBe(false);
  expect(isOpened(page({ passwordHash: 'scrypt$terns' }), cookie, NOW)).toBe(false);
  expect(isOpened(page({ passwordHash: null }), cookie, NOW)).toBe(false);
  expect(isOpened(page({ id: 5 }), cookie.replace('_4=', '_5='), NOW)).toBe(false);
  expect(
    isOpened(page(), cookie.replace(String(NOW + THIRTY_DAYS), String(NOW + 2 * THIRTY_DAYS)), NOW),
  ).toBe(false);
  for (const strange of [undefined, '', 'lantern_page_4=', 'lantern_page_4=9e99.x', `${cookie}x`])
    expect(isOpened(page(), strange, NOW)).toBe(false);
});
