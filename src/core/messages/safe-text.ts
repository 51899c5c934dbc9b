/**
 * Names, titles of pages and the output of jobs come from anywhere: what they may do where a message is shown is decided
 * here. Each function is for one place a text goes to.
 */

/** Splits a word for whoever looks for it, and for nobody who reads (U+2060, word joiner). */
const JOINER = '\u2060';
/** What turns the direction of what follows, or cannot be seen (Unicode Technical Report 36, section 2). */
const HIDDEN = /[\u200b\u200e\u200f\u2028-\u202e\u2060-\u2069\ufeff]/gu;
const CONTROLS = /\p{Cc}+/gu;
/** Words after an at sign that many rooms take for all who are in them, and the same as commands in angle brackets. */
const EVERYONE = /@(?=(?:all|everyone|here|channel|room|group|team)\b)/giu;
const COMMAND = /<(?=[!@#&])/g;

/** One line: breaks and other controls are spaces, and nothing in it is hidden or turns it round. */
export function oneLine(text: string): string {
  return text.replace(CONTROLS, ' ').replace(HIDDEN, '').replace(/ {2,}/g, ' ').trim();
}

/** Nobody is called by it: neither a whole room nor somebody in it by a command. */
export function withoutCalls(text: string): string {
  return text.replace(EVERYONE, `@${JOINER}`).replace(COMMAND, `<${JOINER}`);
}

/** As Markdown shows it as it is (CommonMark 0.31, section 2.4: a backslash before ASCII punctuation). */
export function forMarkdown(text: string): string {
  return withoutCalls(text).replace(/[\\`*_~|[\]<>#()]/g, '\\$&');
}

const ENTITIES: Record<string, string> = { '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' };

/** As HTML shows it as it is, also in an attribute. */
export function forHtml(text: string): string {
  return text.replace(/[&<>"]/g, (c) => ENTITIES[c]!);
}

/** The beginning of a text, in whole characters; what was cut off is said by an ellipsis. */
export function cutTo(text: string, most: number): string {
  if (text.length <= most) return text;
  return `${text.slice(0, most - 1).replace(/[\ud800-\udbff]$/u, '')}…`;
}

/** Cuts a text so that no piece has more bytes in UTF-8; between words where it can, and never within a character. */
export function inPieces(text: string, mostBytes: number): string[] {
  const pieces: string[] = [];
  let piece = '';
  let bytes = 0;
  for (const { segment } of new Intl.Segmenter('en', { granularity: 'grapheme' }).segment(text)) {
    const size = new TextEncoder().encode(segment).length;
    if (size > mostBytes) continue;
    if (bytes + size > mostBytes) {
      const space = segment === ' ' ? piece.length : piece.lastIndexOf(' ');
      const cut = space > piece.length / 2 ? space : piece.length;
      pieces.push(piece.slice(0, cut));
      piece = piece.slice(cut + 1);
      bytes = new TextEncoder().encode(piece).length;
      if (segment === ' ') continue;
    }
    piece += segment;
    bytes += size;
  }
  return piece === '' ? pieces : [...pieces, piece];
}
