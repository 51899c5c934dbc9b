/** A drawing of more than this takes long to draw, and is none that was made by hand. */
const MOST_SVG_BYTES = 500_000;

const FORBIDDEN: readonly (readonly [RegExp, string])[] = [
  [/<!(?:DOCTYPE|ENTITY)/i, 'a document type of its own'],
  [/<\s*(?:\w+:)?script\b/i, 'a script'],
  [/<\s*(?:\w+:)?(?:foreignObject|iframe|embed|object)\b/i, 'something that is no drawing'],
  [/\son\w+\s*=/i, 'something that runs by itself'],
  [/<\?xml-stylesheet/i, 'a sheet of style from elsewhere'],
  [/@import/i, 'a sheet of style from elsewhere'],
];

const REFERENCES = /(?:(?:href|src)\s*=\s*["']?|url\(\s*["']?)\s*([^"'\s>)]*)/gi;
/** To a part of the drawing itself, or to a picture within it. */
const WITHIN = /^(?:#|data:image\/(?:png|jpeg|webp|gif)[;,])/i;

/** Why a drawing (SVG) is not taken in; null where it holds lines and colours alone. */
export function svgProblem(bytes: Uint8Array): string | null {
  if (bytes.length > MOST_SVG_BYTES) return `Expected a drawing of at most ${MOST_SVG_BYTES / 1000} kB.`;
  let text: string;
  try {
    text = new TextDecoder('utf-8', { fatal: true }).decode(bytes);
  } catch {
    return 'Expected a drawing in UTF-8.';
  }
  if (text.includes('\0')) return 'Expected a drawing in UTF-8.';
  const held =
    FORBIDDEN.find(([pattern]) => pattern.test(text))?.[1] ??
    ([...text.matchAll(REFERENCES)].some(([, to]) => !WITHIN.test(to!)) ? 'a reference to elsewhere' : null);
  return held && `Expected a drawing of lines and colours alone; this one holds ${held}.`;
}
