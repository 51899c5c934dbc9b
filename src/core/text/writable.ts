/**
 * What no document can hold that others read (XML 1.0, 2.2: controls besides tab and line breaks, halves of characters,
 * U+FFFE, U+FFFF), and what turns round the text behind it until it is ended (UAX 9, 2.1 and 2.2).
 */
const UNWRITABLE = /[\0-\u0008\u000b\u000c\u000e-\u001f\u007f\u202a-\u202e\ufffe\uffff]|\p{Cs}/u;
const EVERY = new RegExp(UNWRITABLE, 'gu');

/** The first character that cannot be kept in a text, as "U+0001 at character 5"; null where all can. */
export function unwritableIn(text: string): string | null {
  const at = text.search(UNWRITABLE);
  if (at < 0) return null;
  const code = text.charCodeAt(at).toString(16).toUpperCase().padStart(4, '0');
  return `U+${code} at character ${at + 1}`;
}

/** The same with a mark (U+FFFD) in the place of each: what was kept before such was refused. */
export function writable(text: string): string {
  return text.replace(EVERY, '\ufffd');
}
