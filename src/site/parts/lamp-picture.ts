import {
  coarsePublic,
  combineLines,
  PUBLIC_KINDS,
  type PublicKind,
  type PublicStretch,
} from '@/core/pages/public-line';
import type { Span } from '@/core/history/spans';
import type { Colours } from './colours';
import { lampPaths } from './lamp-shapes';
import { wayOf } from './line';

/** Style of what pictures are made of: states by colour, besides their shapes. */
export function stateColours(colours: Colours): string {
  return (
    `.running{color:${colours.running}}.slow,.partly{color:${colours.late}}.out{color:${colours.out}}` +
    `.maintenance{color:${colours.maintenance}}.unknown{color:${colours.unknown}}.x{stroke:${colours.ground}}`
  );
}

export const LINE_STYLE = '.l path{fill:none;stroke:currentColor}';

/** The lantern as a drawing within another: how it stands is told by its shape. */
export function lampDrawing(
  state: PublicKind,
  { x, y, size }: { x: number; y: number; size: number },
): string {
  const { full, thin, faint, cross } = lampPaths(state);
  return [
    `<svg class="${state}" x="${x}" y="${y}" width="${size}" height="${size}" viewBox="0 0 16 16" fill="none" stroke="currentColor" stroke-width="1.1">`,
    '<circle cx="8" cy="1.7" r="1.15"/>',
    full && `<path d="${full}" fill="currentColor"/>`,
    faint && `<path d="${faint}" fill="currentColor" fill-opacity=".17"/>`,
    thin && `<path d="${thin}"${state === 'unknown' ? ' stroke-dasharray="1.6 1.2"' : ''}/>`,
    cross && `<path class="x" d="${cross}" stroke-width="1.3"/>`,
    '</svg>',
  ].join('');
}

const HEIGHTS = { running: 2.5, unknown: 2, maintenance: 8, slow: 7, partly: 11, out: 16 } as const;

/** The calm line of several as a drawing within another: the worst of them at each time. */
export function lineDrawing(
  lines: readonly (readonly PublicStretch[])[],
  range: Span,
  { x, y, wide, high, pieces }: { x: number; y: number; wide: number; high: number; pieces: number },
): string {
  const drawn = coarsePublic(combineLines(lines, 'any'), range, pieces);
  const paths = PUBLIC_KINDS.map((kind) => {
    const d = wayOf(drawn, kind, range);
    const dots = kind === 'unknown' ? ' stroke-dasharray="8 16"' : '';
    return d && `<path class="${kind}" stroke-width="${HEIGHTS[kind]}"${dots} d="${d}"/>`;
  });
  return `<svg class="l" x="${x}" y="${y}" width="${wide}" height="${high}" viewBox="0 0 1000 24" preserveAspectRatio="none">${paths.join('')}</svg>`;
}
