import { pageSpeechOf } from '@/core/languages/page-speech';
import { badgeState } from '@/core/pages/badge';
import { readColour, readableOn, colourText } from '@/core/pages/colour';
import { GROUNDS } from '@/core/pages/look';
import { escapeUTF8 } from 'entities';
import { writable } from '@/core/text/writable';
import type { PublicPage } from '@/views/pages/public-page';
import { PUBLIC_COLOURS } from '../parts/colours';
import { lampDrawing, lineDrawing, LINE_STYLE, stateColours } from '../parts/lamp-picture';
import { leadOf } from '../sheets/page-sheet';
import { SOCIAL_SIZE } from './size';
import { inLines, type Face, type Letters } from './letters';

const LEFT = 84;
const LEAD = { size: 66, face: 'leading', wide: 1032, most: 3, step: 78 } as const;

/** How a page stands now, as a picture: its name, its lantern, the sentence that leads it, and its line. */
export function socialSvg(view: PublicPage, letters: Letters): string {
  const { page, now, zone, range } = view;
  const speech = pageSpeechOf(page.language);
  const light = page.theme === 'dark' ? 'dark' : 'light';
  const colours = PUBLIC_COLOURS[light];
  const ground = GROUNDS[light];
  const chosen = page.accent === null ? null : readColour(page.accent);
  const accent = chosen ? colourText(readableOn(chosen, ground)) : colours.running;
  const rows = view.sections.flatMap((section) => section.rows);
  const put = (text: string, at: { x: number; y: number }, size: number, face: Face, className: string) =>
    `<path class="${className}" d="${letters.shapeOf(text, at, size, face)}"/>`;
  const lead = inLines(letters, leadOf(view, speech), LEAD);
  const [title = ''] = inLines(letters, page.title, { size: 40, face: 'strong', wide: 900, most: 1 });
  const lines = rows.flatMap(({ line }) => (line.length > 0 ? [line] : []));
  const asOf = speech.at(now, zone, 'moment');
  const { wide, high } = SOCIAL_SIZE;
  return [
    `<svg xmlns="http://www.w3.org/2000/svg" width="${wide}" height="${high}" viewBox="0 0 ${wide} ${high}">`,
    `<title>${escapeUTF8(writable(page.title))}</title>`,
    `<style>.i{fill:${colours.ink}}.m{fill:${colours.muted}}.a{fill:${accent}}${LINE_STYLE}${stateColours(colours)}</style>`,
    `<rect width="${wide}" height="${high}" fill="${colourText(ground)}"/>`,
    `<rect class="a" width="14" height="${high}"/>`,
    lampDrawing(badgeState({ rows }), { x: LEFT - 12, y: 62, size: 84 }),
    put(title, { x: LEFT + 92, y: 120 }, 40, 'strong', 'a'),
    ...lead.map((line, i) => put(line, { x: LEFT, y: 262 + i * LEAD.step }, LEAD.size, LEAD.face, 'i')),
    lines.length > 0 &&
      lineDrawing(lines, range, { x: LEFT, y: 486, wide: LEAD.wide, high: 44, pieces: 300 }),
    put(speech.say('span', { days: view.days }), { x: LEFT, y: 570 }, 26, 'reading', 'm'),
    put(asOf, { x: wide - LEFT - letters.widthOf(asOf, 26, 'reading'), y: 570 }, 26, 'reading', 'm'),
    '</svg>',
  ]
    .filter(Boolean)
    .join('');
}
