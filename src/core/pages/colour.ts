/** Red, green and blue, each from 0 to 255. */
export type Rgb = readonly [number, number, number];

/** What text has to stand out by against its ground (WCAG 2.2, 1.4.3). */
export const LEAST_CONTRAST = 4.5;

/** Reads "#1f6e6a" or "#1e6"; null for anything else. */
export function readColour(text: string): Rgb | null {
  const short = /^#([\da-f])([\da-f])([\da-f])$/i.exec(text);
  const full = short
    ? `#${short
        .slice(1)
        .map((digit) => digit + digit)
        .join('')}`
    : text;
  const parts = /^#([\da-f]{2})([\da-f]{2})([\da-f]{2})$/i.exec(full);
  if (!parts) return null;
  const [r, g, b] = parts.slice(1).map((part) => parseInt(part, 16));
  return [r!, g!, b!];
}

export function colourText(colour: Rgb): string {
  return `#${colour.map((part) => Math.round(part).toString(16).padStart(2, '0')).join('')}`;
}

/** Relative luminance (WCAG 2.2, "relative luminance"). */
function luminance(colour: Rgb): number {
  const [r, g, b] = colour.map((part) => {
    const share = part / 255;
    return share <= 0.04045 ? share / 12.92 : ((share + 0.055) / 1.055) ** 2.4;
  });
  return 0.2126 * r! + 0.7152 * g! + 0.0722 * b!;
}

/** By how much two colours stand out against each other: 1 for the same, 21 for black and white. */
export function contrastOf(a: Rgb, b: Rgb): number {
  const [light, dark] = [luminance(a), luminance(b)].sort((x, y) => y - x) as [number, number];
  return (light + 0.05) / (dark + 0.05);
}

const BLACK: Rgb = [0, 0, 0];
const WHITE: Rgb = [255, 255, 255];

function mixed(a: Rgb, b: Rgb, share: number): Rgb {
  const at = (i: 0 | 1 | 2) => a[i] + (b[i] - a[i]) * share;
  return [at(0), at(1), at(2)];
}

const STEPS = 100;

/**
 * The colour nearest to one that can be read on a ground: darker on a light one, lighter on a dark one, by no more than it
 * takes.
 */
export function readableOn(colour: Rgb, ground: Rgb, least = LEAST_CONTRAST): Rgb {
  const towards = contrastOf(ground, BLACK) >= contrastOf(ground, WHITE) ? BLACK : WHITE;
  for (let step = 0; step <= STEPS; step += 1) {
    const tried = readColour(colourText(mixed(colour, towards, step / STEPS)))!;
    if (contrastOf(tried, ground) >= least) return tried;
  }
  return towards;
}

/** Black or white, whichever can be read better on a colour. */
export function inkOn(colour: Rgb): Rgb {
  return contrastOf(colour, BLACK) >= contrastOf(colour, WHITE) ? BLACK : WHITE;
}
