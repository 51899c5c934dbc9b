import { escapeUTF8 } from 'entities';
import type { PageSpeech } from '@/core/languages/page-speech';
import { badgeState, badgeWords, type BadgeFacts, type BadgeShows } from '@/core/pages/badge';
import { coarsePublic, combineLines, PUBLIC_KINDS } from '@/core/pages/public-line';
import { DAY_MS } from '@/core/time/units';
import { lampPaths } from '../parts/lamp-shapes';
import { wayOf } from '../parts/line';

export const BADGE_LIGHTS = ['both', 'light', 'dark'] as const;
export const BADGE_SHAPES = ['round', 'square', 'bare'] as const;

export interface BadgeWish {
  shows: BadgeShows;
  /** What stands before the words; empty for nothing. */
  label: string;
  light: (typeof BADGE_LIGHTS)[number];
  shape: (typeof BADGE_SHAPES)[number];
  /** How much larger than usual, from 1 to 4. */
  size: number;
}

const HIGH = 28;
const LINE_WIDE = 120;

const LIGHT = {
  ground: '#fffef9',
  rule: '#d9d2bf',
  ink: '#1b2632',
  muted: '#56606b',
  running: '#28696d',
  late: '#855407',
  out: '#a52c20',
  maintenance: '#5a55a6',
  unknown: '#5d646d',
};
const DARK: typeof LIGHT = {
  ground: '#1a2430',
  rule: '#2c3947',
  ink: '#ece6d7',
  muted: '#a3aeb9',
  running: '#63b3aa',
  late: '#e5b55e',
  out: '#f08d80',
  maintenance: '#9b96e2',
  unknown: '#a3aeb9',
};

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

function styleOf({ light }: BadgeWish): string {
  const of = (colours: typeof LIGHT) =>
    `.g{fill:${colours.ground};stroke:${colours.rule}}.i{fill:${colours.ink}}.m{fill:${colours.muted}}` +
    `.running{color:${colours.running}}.slow,.partly{color:${colours.late}}.out{color:${colours.out}}` +
    `.maintenance{color:${colours.maintenance}}.unknown{color:${colours.unknown}}.x{stroke:${colours.ground}}`;
  const shared =
    'text{font:13px "Atkinson Hyperlegible Next",Verdana,"DejaVu Sans",sans-serif}.w{fill:currentColor;font-weight:600}' +
    '.l path{fill:none;stroke:currentColor}';
  if (light === 'light') return shared + of(LIGHT);
  if (light === 'dark') return shared + of(DARK);
  return `${shared}${of(LIGHT)}@media(prefers-color-scheme:dark){${of(DARK)}}`;
}

const HEIGHTS = { running: 2.5, unknown: 2, maintenance: 8, slow: 7, partly: 11, out: 16 } as const;

function lineOf(facts: BadgeFacts, x: number): string {
  const { days, now, rows } = facts;
  const range = { from: now - days * DAY_MS, to: now };
  const whole = combineLines(
    rows.map(({ line }) => line),
    'any',
  );
  const drawn = coarsePublic(whole, range, 60);
  const paths = PUBLIC_KINDS.map((kind) => {
    const d = wayOf(drawn, kind, range);
    const dots = kind === 'unknown' ? ' stroke-dasharray="8 16"' : '';
    return d && `<path class="${kind}" stroke-width="${HEIGHTS[kind]}"${dots} d="${d}"/>`;
  });
  return `<svg class="l" x="${x}" y="2" width="${LINE_WIDE}" height="24" viewBox="0 0 1000 24" preserveAspectRatio="none">${paths.join('')}</svg>`;
}

/** A badge as SVG that needs nothing besides: what it says stands in its title too, for who cannot see it. */
export function badgeSvg(facts: BadgeFacts, wish: BadgeWish, name: string, speech: PageSpeech): string {
  const state = badgeState(facts);
  const words = badgeWords(facts, wish.shows, speech);
  const title = escapeUTF8(speech.say('badge.title', { title: wish.label || name, words }));
  const { full, thin, faint, cross } = lampPaths(state);
  let x = 30;
  const parts: string[] = [];
  const put = (text: string, className: string) => {
    const wide = widthOf(text);
    parts.push(
      `<text class="${className}" x="${x}" y="18.5" textLength="${wide.toFixed(0)}" lengthAdjust="spacingAndGlyphs">${escapeUTF8(text)}</text>`,
    );
    x += wide + 8;
  };
  if (wish.label) put(wish.label, 'i');
  if (wish.shows === 'line') {
    parts.push(lineOf(facts, x));
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
  const lamp = [
    `<svg class="${state}" x="8" y="5" width="18" height="18" viewBox="0 0 16 16" fill="none" stroke="currentColor" stroke-width="1.1">`,
    '<circle cx="8" cy="1.7" r="1.15"/>',
    full && `<path d="${full}" fill="currentColor"/>`,
    faint && `<path d="${faint}" fill="currentColor" fill-opacity=".17"/>`,
    thin && `<path d="${thin}"${state === 'unknown' ? ' stroke-dasharray="1.6 1.2"' : ''}/>`,
    cross && `<path class="x" d="${cross}" stroke-width="1.3"/>`,
    '</svg>',
  ].join('');
  return (
    `<svg xmlns="http://www.w3.org/2000/svg" width="${wide * size}" height="${HIGH * size}" viewBox="0 0 ${wide} ${HIGH}" role="img" aria-label="${title}">` +
    `<title>${title}</title><style>${styleOf(wish)}</style>${ground}${lamp}${parts.join('')}</svg>`
  );
}
