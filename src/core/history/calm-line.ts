import type { Stretch } from './availability';
import { subtractSpans, type Span } from './spans';
import { SEVERITY, type StretchKind } from '@/core/lifecycle/state';

/**
 * A watch's history as stretches that cover `range` without gaps or overlaps, in order: what `unobserved`
 * covers wins over the state below it, an outage wins over the states of its doubt, and time without any
 * record is unobserved. Neighbours of one kind are joined.
 */
export function calmLine(range: Span, stretches: readonly Stretch[], outages: readonly Span[]): Stretch[] {
  const layers: Stretch[][] = [
    stretches.filter((s) => s.kind === 'unobserved'),
    stretches.filter((s) => s.kind === 'maintenance' || s.kind === 'paused'),
    outages.map((o) => ({ from: o.from, to: o.to, kind: 'down' as StretchKind })),
    stretches.filter((s) => !['unobserved', 'maintenance', 'paused'].includes(s.kind)),
    [{ ...range, kind: 'unobserved' }],
  ];
  const line: Stretch[] = [];
  let free: Span[] = [range];
  for (const layer of layers) {
    const taken = intoFree(layer, free);
    line.push(...taken);
    free = subtractSpans(free, taken);
    if (free.length === 0) break;
  }
  return joinNeighbours(line.sort((a, b) => a.from - b.from));
}

/** What of a layer falls into free time; where its stretches overlap, the one that began first counts. */
function intoFree(layer: readonly Stretch[], free: readonly Span[]): Stretch[] {
  const taken: Stretch[] = [];
  let cursor = -Infinity;
  let first = 0;
  for (const { from, to, kind } of [...layer].sort((a, b) => a.from - b.from)) {
    const start = Math.max(from, cursor);
    while (first < free.length && free[first]!.to <= start) first += 1;
    for (let i = first; i < free.length && free[i]!.from < to; i += 1) {
      const span = { from: Math.max(start, free[i]!.from), to: Math.min(to, free[i]!.to) };
      if (span.to > span.from) taken.push({ ...span, kind });
    }
    cursor = Math.max(cursor, to);
  }
  return taken;
}

/** A piece of any kind of line. */
interface Piece<K> extends Span {
  kind: K;
}

/**
 * A line of at most about `most` pieces, to be drawn: what is too short to be seen by itself is put together with
 * its neighbours, and the worst of them shows, by its rank. A line that is short enough stays as it is.
 */
export function coarsen<K>(
  line: readonly Piece<K>[],
  range: Span,
  most: number,
  rankOf: (kind: K) => number,
): Piece<K>[] {
  if (line.length <= most) return [...line];
  const least = (range.to - range.from) / (most / 2);
  const coarse: Piece<K>[] = [];
  /** Whether the last piece is still too short to be seen. */
  let growing = false;
  for (const stretch of line) {
    const last = coarse.at(-1);
    const short = stretch.to - stretch.from < least;
    if (last && growing && short) {
      last.to = stretch.to;
      if (rankOf(stretch.kind) > rankOf(last.kind)) last.kind = stretch.kind;
      growing = last.to - last.from < least;
    } else {
      coarse.push({ ...stretch });
      growing = short;
    }
  }
  return joinNeighbours(coarse);
}

/** The same for the states of a watch. */
export function coarseLine(line: readonly Stretch[], range: Span, most = 400): Stretch[] {
  return coarsen(line, range, most, (kind) => SEVERITY[kind]);
}

/** Pieces of one kind that follow each other become one. */
export function joinNeighbours<K>(line: readonly Piece<K>[]): Piece<K>[] {
  const joined: Piece<K>[] = [];
  for (const stretch of line) {
    const last = joined.at(-1);
    if (last && last.kind === stretch.kind && last.to === stretch.from) last.to = stretch.to;
    else joined.push({ ...stretch });
  }
  return joined;
}

/** What stood at one moment, or undefined outside the line. */
export function stretchAt(line: readonly Stretch[], at: number): Stretch | undefined {
  return line.find((s) => s.from <= at && at < s.to);
}
