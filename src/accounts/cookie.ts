/** The cookie that carries a session. */
export const SESSION_COOKIE = 'lantern_session';
export const SESSION_MS = 30 * 24 * 3_600_000;
