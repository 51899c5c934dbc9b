import { greatest } from 'd3-array';
import type { Stretch } from './availability';
import { inOrder, type Span } from './spans';
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
    const { taken, rest } = layInto(layer, free);
    for (const stretch of taken) line.push(stretch);
    free = rest;
    if (free.length === 0) break;
  }
  return joinNeighbours(line.sort((a, b) => a.from - b.from));
}

/**
 * What of a layer falls into free time, and what stays free; where its stretches overlap, the one that began first
 * counts. Free time comes in order and apart; one walk along both, as a restless watch has tens of thousands.
 */
function layInto(layer: readonly Stretch[], free: readonly Span[]): { taken: Stretch[]; rest: Span[] } {
  if (layer.length === 0) return { taken: [], rest: [...free] };
  const taken: Stretch[] = [];
  const rest: Span[] = [];
  let index = 0;
  /** Where what is left of the present free span begins. */
  let open = free[0]?.from ?? Infinity;
  const nextFree = () => {
    index += 1;
    open = free[index]?.from ?? Infinity;
  };
  for (const { from, to, kind } of inOrder(layer)) {
    while (index < free.length && free[index]!.from < to) {
      const { to: end } = free[index]!;
      const start = Math.max(open, from);
      if (start < end && to > start) {
        if (start > open) rest.push({ from: open, to: start });
        const stop = Math.min(to, end);
        taken.push({ from: start, to: stop, kind });
        open = stop;
      }
      if (open < end && to < end) break;
      if (open < end) rest.push({ from: open, to: end });
      nextFree();
    }
  }
  for (; index < free.length; nextFree()) {
    const { to: end } = free[index]!;
    if (open < end) rest.push({ from: open, to: end });
  }
  return { taken, rest };
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

/**
 * The worst of what stood at any moment from one to another, both of them with it; undefined outside the line. A point of
 * a drawn line stands for a while, and what lies within it must not depend on where in that while one asks.
 */
export function worstWithin(line: readonly Stretch[], from: number, to: number): StretchKind | undefined {
  const within = line.filter((s) => s.from <= to && from < s.to);
  return greatest(within, (s) => SEVERITY[s.kind])?.kind;
}
