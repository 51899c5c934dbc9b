import type { Stretch } from '@/core/history/availability';
import { coarsen, joinNeighbours } from '@/core/history/calm-line';
import { totalOf, type Span } from '@/core/history/spans';
import type { State, StretchKind } from '@/core/lifecycle/state';

/** How a service stands to the public, the worst last. Doubt is ours, and so is what only wants a hand. */
export const PUBLIC_KINDS = ['running', 'unknown', 'maintenance', 'slow', 'partly', 'out'] as const;
export type PublicKind = (typeof PUBLIC_KINDS)[number];

/** [from, to) in ms since 1970. */
export interface PublicStretch extends Span {
  kind: PublicKind;
}

/** `timed` where being slow may be for time; else only a limit of the watch's own was passed. */
export function publicKind(kind: StretchKind, timed: boolean): PublicKind {
  switch (kind) {
    case 'down':
      return 'out';
    case 'maintenance':
      return 'maintenance';
    case 'slow':
      return timed ? 'slow' : 'running';
    case 'up':
    case 'doubtful':
    case 'overdue':
      return 'running';
    case 'waiting':
    case 'paused':
    case 'unobserved':
      return 'unknown';
  }
}

/** How a watch stands now to the public: nothing unconfirmed, and nothing that is the desk's business alone. */
export function publicState({ state, warned }: { state: State; warned?: unknown }): PublicKind {
  return publicKind(state, !warned);
}

function joinPublic(line: readonly PublicStretch[]): PublicStretch[] {
  return joinNeighbours(line.filter(({ from, to }) => to > from));
}

/** A watch's line as the public may see it. */
export function publicLine(line: readonly Stretch[], timed: boolean): PublicStretch[] {
  return joinPublic(line.map(({ from, to, kind }) => ({ from, to, kind: publicKind(kind, timed) })));
}

/**
 * How several watches count as one. `any`: it is out as soon as one of them is. `all`: they stand in for each other, so
 * it is out when all are, and partly while some are.
 */
export type Counting = 'any' | 'all';

/** What several that stand like this are as one. What is not known of one is not claimed of the whole. */
export function together(kinds: readonly PublicKind[], counting: Counting): PublicKind {
  const has = (kind: PublicKind) => kinds.includes(kind);
  if (counting === 'any') return [...PUBLIC_KINDS].reverse().find(has) ?? 'unknown';
  const serving = kinds.filter((kind) => kind !== 'maintenance');
  if (serving.length === 0) return kinds.length > 0 ? 'maintenance' : 'unknown';
  if (serving.every((kind) => kind === 'out')) return 'out';
  if (serving.includes('out')) return 'partly';
  if (serving.includes('running')) return 'running';
  return serving.includes('slow') ? 'slow' : 'unknown';
}

/** Lines over the same range as one line: at each moment what they are together. */
export function combineLines(
  lines: readonly (readonly PublicStretch[])[],
  counting: Counting,
): PublicStretch[] {
  if (lines.length <= 1) return lines[0] ? [...lines[0]] : [];
  const edges = [...new Set(lines.flatMap((line) => line.flatMap(({ from, to }) => [from, to])))].sort(
    (a, b) => a - b,
  );
  const at = lines.map(() => 0);
  const pieces = edges.slice(0, -1).map((from, i): PublicStretch => {
    const kinds = lines.flatMap((line, l) => {
      while (at[l]! < line.length && line[at[l]!]!.to <= from) at[l]! += 1;
      const stretch = line[at[l]!];
      return stretch && stretch.from <= from ? [stretch.kind] : [];
    });
    return { from, to: edges[i + 1]!, kind: together(kinds, counting) };
  });
  return joinPublic(pieces);
}

export interface PublicFigure {
  /** 1 − out / looked at; null where nobody looked. Partly out is not out. */
  uptime: number | null;
  observedMs: number;
}

/** The figure of a line: only over time somebody looked, less what is left out of it for a reason. */
export function figureOf(line: readonly PublicStretch[], leftOut: readonly Span[] = []): PublicFigure {
  let [observedMs, outMs] = [0, 0];
  for (const { from, to, kind } of line) {
    if (kind === 'unknown' || kind === 'maintenance') continue;
    const without =
      kind === 'out'
        ? totalOf(leftOut.map((span) => ({ from: Math.max(from, span.from), to: Math.min(to, span.to) })))
        : 0;
    observedMs += to - from - without;
    if (kind === 'out') outMs += to - from - without;
  }
  return { uptime: observedMs > 0 ? 1 - outMs / observedMs : null, observedMs };
}

/** What of a line falls into a span, cut to it. */
export function cutLine(line: readonly PublicStretch[], { from, to }: Span): PublicStretch[] {
  return line
    .filter((stretch) => stretch.to > from && stretch.from < to)
    .map((stretch) => ({ ...stretch, from: Math.max(stretch.from, from), to: Math.min(stretch.to, to) }));
}

const rank = (kind: PublicKind) => PUBLIC_KINDS.indexOf(kind);

/** A line of at most about `most` pieces, to be drawn; it hides no trouble. */
export function coarsePublic(line: readonly PublicStretch[], range: Span, most: number): PublicStretch[] {
  return coarsen(line, range, most, rank);
}
