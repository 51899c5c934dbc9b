import type { Excerpt } from '../core/finding';

/** This much of a body is kept as evidence. */
export const MOST_EXCERPT_BYTES = 4096;
const MOST_HEADERS = 60;
const MOST_HEADER_VALUE = 500;
/** Shorter secrets would blank half the page. */
const SHORTEST_SECRET = 4;

/** Headers whose value lets its owner in somewhere. */
const PRIVATE_HEADERS =
  /^(set-cookie2?|cookie|authorization|proxy-authorization|authentication-info|.*(token|secret|api-?key|session|password).*)$/i;

export const BLANK = '•••';

/** Takes out every secret that was used, wherever it is repeated. */
export function blankSecrets(text: string, secrets: readonly string[]): string {
  let blanked = text;
  for (const secret of secrets) {
    if (secret.length >= SHORTEST_SECRET) blanked = blanked.replaceAll(secret, BLANK);
  }
  return blanked;
}

/** The first part of bytes as text that is safe to keep: without control characters, binary told as such. */
export function excerptText(bytes: Buffer, text: string): string {
  if (bytes.subarray(0, MOST_EXCERPT_BYTES).includes(0)) return `(binary, ${bytes.length} bytes)`;
  return text
    .slice(0, MOST_EXCERPT_BYTES)
    .replace(/[\p{Cc}\p{Cf}]/gu, (c) => ('\n\t\r'.includes(c) ? c : '·'));
}

/** What answered, as far as it may be kept. `rawHeaders` alternates names and values. */
export function excerptOf(
  reply: { statusLine?: string; rawHeaders?: readonly string[]; body?: string },
  secrets: readonly string[],
): Excerpt {
  const headers: [string, string][] = [];
  const raw = reply.rawHeaders ?? [];
  for (let i = 0; i + 1 < raw.length && headers.length < MOST_HEADERS; i += 2) {
    const value = PRIVATE_HEADERS.test(raw[i]!) ? BLANK : blankSecrets(raw[i + 1]!, secrets);
    headers.push([raw[i]!.slice(0, 100), value.slice(0, MOST_HEADER_VALUE)]);
  }
  return {
    ...(reply.statusLine && { statusLine: reply.statusLine.slice(0, 200) }),
    ...(headers.length > 0 && { headers }),
    ...(reply.body && { body: blankSecrets(reply.body, secrets) }),
  };
}
