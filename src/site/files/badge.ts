import { escapeUTF8 } from 'entities';
import { writable } from '@/core/text/writable';
import type { PageSpeech } from '@/core/languages/page-speech';
import { colourText, inkOn, readableOn, readColour } from '@/core/pages/colour';
import { badgeState, badgeWords, type BadgeFacts, type BadgeShows } from '@/core/pages/badge';
import { DAY_MS } from '@/core/time/units';
import { lampDrawing, lineDrawing, LINE_STYLE, stateColours } from '../parts/lamp-picture';
import { PUBLIC_COLOURS, type Colours } from '../parts/colours';
import type { Letters } from '../pictures/letters';

export const BADGE_TYPES = ['svg', 'png'] as const;
export type BadgeType = (typeof BADGE_TYPES)[number];
export const BADGE_LIGHTS = ['both', 'light', 'dark'] as const;
export const BADGE_SHAPES = ['round', 'square', 'bare'] as const;

export interface BadgeWish {
  shows: BadgeShows;
  /** What stands before the words; empty for nothing. */
  label: string;
  light: (typeof BADGE_LIGHTS)[number];
  shape: (typeof BADGE_SHAPES)[number];
  /** A ground of one's own, "#1c5d7d"; what stands on it is made to be read there. Null for that of the light. */
  ground: string | null;
  /** How much larger than usual, from 1 to 4. */
  size: number;
}

const HIGH = 28;
const LINE_WIDE = 120;
const SIZE = 13;
const BASE = 18.5;

const NARROW = new Set("iIljtf.,:;'|!()[]·  ".split(''));
const WIDE = new Set('mwMW%@—'.split(''));

/** How wide a text will be at 13 px, about: pictures know nothing of the letters they are shown with. */
function widthOf(text: string): number {
  return [...text].reduce((sum, letter) => {
    if (NARROW.has(letter)) return sum + 4.2;
    if (WIDE.has(letter)) return sum + 11;
    return sum + (letter >= '\u2E80' ? 13 : /[A-Z]/.test(letter) ? 8.8 : 7.2);
  }, 0);
}

function coloursOn(ground: string): Colours | null {
  const on = readColour(ground);
  if (!on) return null;
  const read = (colour: string) => colourText(readableOn(readColour(colour)!, on));
  const ink = colourText(inkOn(on));
  const { running, late, out, maintenance, unknown } = PUBLIC_COLOURS.light;
  return {
    ...{ ground: colourText(on), rule: colourText(on), ink, muted: ink },
    ...{ running: read(running), late: read(late), out: read(out) },
    ...{ maintenance: read(maintenance), unknown: read(unknown) },
  };
}

function styleOf({ light, ground }: BadgeWish): string {
  const of = (colours: Colours) =>
    `.g{fill:${colours.ground};stroke:${colours.rule}}.i{fill:${colours.ink}}.m{fill:${colours.muted}}` +
    stateColours(colours);
  const shared =
    `text{font:${SIZE}px "Atkinson Hyperlegible Next",Verdana,"DejaVu Sans",sans-serif}` +
    `.w{fill:currentColor;font-weight:600}${LINE_STYLE}`;
  const own = ground === null ? null : coloursOn(ground);
  if (own) return shared + of(own);
  if (light !== 'both') return shared + of(PUBLIC_COLOURS[light]);
  return `${shared}${of(PUBLIC_COLOURS.light)}@media(prefers-color-scheme:dark){${of(PUBLIC_COLOURS.dark)}}`;
}

interface Written {
  wide: number;
  svg: string;
}

/** A text that is shown with the letters of whoever sees it, in the room it takes about. */
function asText(text: string, className: string, x: number): Written {
  const wide = widthOf(text);
  const fit = `textLength="${wide.toFixed(0)}" lengthAdjust="spacingAndGlyphs"`;
  return {
    wide,
    svg: `<text class="${className}" x="${x}" y="${BASE}" ${fit}>${escapeUTF8(text)}</text>`,
  };
}

/** A text that is drawn with letters of ours. */
function asShape(text: string, className: string, x: number, { widthOf: wideOf, shapeOf }: Letters): Written {
  const face = className === 'i' ? 'reading' : 'strong';
  const d = shapeOf(text, { x, y: BASE }, SIZE, face);
  return { wide: wideOf(text, SIZE, face), svg: `<path class="${className}" d="${d}"/>` };
}

/**
 * A badge as SVG that needs nothing besides: what it says stands in its title too, for who cannot see it. With letters,
 * texts are shapes: for what is made into a picture.
 */
export function badgeSvg(
  facts: BadgeFacts,
  wish: BadgeWish,
  name: string,
  speech: PageSpeech,
  letters: Letters | null = null,
): string {
  const state = badgeState(facts);
  const words = badgeWords(facts, wish.shows, speech);
  const title = escapeUTF8(speech.say('badge.title', { title: wish.label || name, words }));
  let x = 30;
  const parts: string[] = [];
  const put = (text: string, className: string) => {
    const { wide, svg } = letters ? asShape(text, className, x, letters) : asText(text, className, x);
    parts.push(svg);
    x += Math.round(wide) + 8;
  };
  if (wish.label) put(wish.label, 'i');
  if (wish.shows === 'line') {
    const { rows, days, now } = facts;
    const lines = rows.map(({ line }) => line);
    const range = { from: now - days * DAY_MS, to: now };
    parts.push(lineDrawing(lines, range, { x, y: 2, wide: LINE_WIDE, high: 24, pieces: 60 }));
    x += LINE_WIDE + 8;
  }
  put(words, `w ${state}`);
  const wide = Math.ceil(x + 2);
  const { size } = wish;
  const radius = wish.shape === 'round' ? 9 : 2;
  const ground =
    wish.shape === 'bare'
      ? ''
      : `<rect class="g" x=".5" y=".5" width="${wide - 1}" height="${HIGH - 1}" rx="${radius}"/>`;
  const lamp = lampDrawing(state, { x: 8, y: 5, size: 18 });
  return writable(
    `<svg xmlns="http://www.w3.org/2000/svg" width="${wide * size}" height="${HIGH * size}" viewBox="0 0 ${wide} ${HIGH}" role="img" aria-label="${title}">` +
      `<title>${title}</title><style>${styleOf(wish)}</style>${ground}${lamp}${parts.join('')}</svg>`,
  );
}
