import type { Stretch } from './availability';
import { subtractSpans, type Span } from './spans';
import type { StretchKind } from './state';

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
    for (const stretch of layer) {
      const rest = subtractSpans(free, [stretch]);
      const taken = subtractSpans(free, rest);
      for (const span of taken) line.push({ ...span, kind: stretch.kind });
      free = rest;
    }
    if (free.length === 0) break;
  }
  return joinNeighbours(line.sort((a, b) => a.from - b.from));
}

function joinNeighbours(line: readonly Stretch[]): Stretch[] {
  const joined: Stretch[] = [];
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
