/** The cookie that carries a session. */
export const SESSION_COOKIE = 'lantern_session';
export const SESSION_MS = 30 * 24 * 3_600_000;

/** One cookie's value out of a Cookie header (RFC 6265), or null. */
export function cookieValue(header: string | null | undefined, name: string): string | null {
  for (const part of (header ?? '').split(';')) {
    const [key, ...value] = part.trim().split('=');
    if (key === name) return value.join('=');
  }
  return null;
}
