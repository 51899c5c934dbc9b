import type { Excerpt } from '@/core/causes/finding';
import { BLANK, Blanker } from '@/core/text/secret-forms';

/** This much of a body is kept as evidence. */
export const MOST_EXCERPT_BYTES = 4096;
const MOST_HEADERS = 60;
const MOST_HEADER_VALUE = 500;
/** Headers whose value lets its owner in somewhere. */
const PRIVATE_HEADERS =
  /^(set-cookie2?|cookie|authorization|proxy-authorization|authentication-info|.*(token|secret|api-?key|session|password).*)$/i;

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
  const blanker = new Blanker(secrets);
  const headers: [string, string][] = [];
  const raw = reply.rawHeaders ?? [];
  for (let i = 0; i + 1 < raw.length && headers.length < MOST_HEADERS; i += 2) {
    const value = PRIVATE_HEADERS.test(raw[i]!) ? BLANK : blanker.text(raw[i + 1]!);
    headers.push([raw[i]!.slice(0, 100), value.slice(0, MOST_HEADER_VALUE)]);
  }
  return {
    ...(reply.statusLine && { statusLine: blanker.text(reply.statusLine).slice(0, 200) }),
    ...(headers.length > 0 && { headers }),
    ...(reply.body && { body: blanker.text(reply.body) }),
  };
}
