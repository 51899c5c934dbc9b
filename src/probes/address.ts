import { isIP } from 'node:net';

/**
 * What a person typed as a web address, made whole: a scheme is added where it lacks (http for numbers and
 * localhost, https for names). Returns null when it cannot be a web address (WHATWG URL).
 */
export function normaliseWebAddress(typed: string): string | null {
  const text = typed.trim();
  if (text === '' || /\s/.test(text)) return null;
  const hasScheme = /^[a-z][a-z0-9+.-]*:\/\//i.test(text);
  const bare = text
    .split(/[/?#]/)[0]!
    .replace(/:\d+$/, '')
    .replace(/^\[|\]$/g, '');
  const plain = isIP(bare) !== 0 || bare === 'localhost';
  try {
    const url = new URL(hasScheme ? text : `${plain ? 'http' : 'https'}://${text}`);
    if ((url.protocol !== 'http:' && url.protocol !== 'https:') || url.hostname === '') return null;
    if (!plain && !hasScheme && !url.hostname.includes('.')) return null;
    return url.href;
  } catch {
    return null;
  }
}

/** Accepted status codes as a person writes them: "200-299, 401". Null when it cannot be read. */
export function parseStatusRanges(text: string): [number, number][] | null {
  const ranges: [number, number][] = [];
  for (const part of text.split(',')) {
    const match = /^\s*(\d{3})(?:\s*-\s*(\d{3}))?\s*$/.exec(part);
    if (!match) return null;
    const from = Number(match[1]);
    const to = Number(match[2] ?? match[1]);
    if (from < 100 || to > 599 || from > to) return null;
    ranges.push([from, to]);
  }
  return ranges.length > 0 ? ranges : null;
}
