import {
  availabilityOf,
  availabilityOver,
  observedIn,
  type Availability,
  type Stretch,
} from './availability';
import { calmLine, joinNeighbours } from './calm-line';
import type { Span } from './spans';

/** Spans in order and apart, of which any part is measured without going through them. */
class Measured {
  /** What the spans before each come to, ms. */
  private readonly before: Float64Array;

  constructor(private readonly spans: readonly Span[]) {
    this.before = new Float64Array(spans.length + 1);
    spans.forEach(({ from, to }, i) => (this.before[i + 1] = this.before[i]! + to - from));
  }

  get length(): number {
    return this.spans.length;
  }

  /** How much of them lies before a moment, ms. */
  private upTo(at: number): number {
    const index = lowerBound(this.spans, at);
    const last = this.spans[index - 1];
    return this.before[index]! - (last ? Math.max(0, last.to - at) : 0);
  }

  within({ from, to }: Span): number {
    return to > from ? this.upTo(to) - this.upTo(from) : 0;
  }
}

/** How many of some spans in order begin before a moment. */
function lowerBound(spans: readonly Span[], at: number): number {
  let [low, high] = [0, spans.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (spans[middle]!.from < at) low = middle + 1;
    else high = middle;
  }
  return low;
}

/** What of spans in order and apart lies within a range, cut to it. */
function cutTo<S extends Span>(spans: readonly S[], { from, to }: Span): S[] {
  if (to <= from) return [];
  const begun = lowerBound(spans, from);
  const first = begun > 0 && spans[begun - 1]!.to > from ? begun - 1 : begun;
  return spans
    .slice(first, lowerBound(spans, to))
    .map((one) =>
      one.from < from || one.to > to
        ? { ...one, from: Math.max(one.from, from), to: Math.min(one.to, to) }
        : one,
    );
}

const parted = (range: Span, at: number): [Span, Span] => [
  { from: range.from, to: Math.min(range.to, at) },
  { from: Math.max(range.from, at), to: range.to },
];

export interface PastOutage extends Span {
  /** Why a person has left it out of figures; null where it counts. */
  reason: string | null;
}

export interface LeftOut extends Span {
  reason: string;
}

/** What is recorded of a watch, in order: its states and its outages, whole. */
export interface Recorded {
  stretches: readonly Stretch[];
  outages: readonly PastOutage[];
}

const isLeftOut = (outage: PastOutage): outage is LeftOut => outage.reason !== null;

/**
 * The part of a watch's history in which nothing is open any more, worked out once: a restless watch has tens of
 * thousands of stretches. Lines and measures of a time are those of its parts, so that what came since is put behind it.
 */
export class Past implements Span {
  readonly from: number;
  readonly to: number;
  /** When nobody looked. */
  readonly unseen: readonly Stretch[];
  /** Those that are over within it. */
  readonly outages: readonly PastOutage[];
  private readonly line: readonly Stretch[];
  private readonly observed: Measured;
  private readonly down: Measured;

  constructor(range: Span, { stretches, outages }: Recorded) {
    this.from = range.from;
    this.to = range.to;
    this.unseen = stretches.filter(({ kind }) => kind === 'unobserved');
    this.outages = outages.filter(({ to }) => to <= range.to);
    this.line = calmLine(range, stretches, outages);
    const { observed, down } = observedIn(range, stretches, outages, outages.filter(isLeftOut));
    this.observed = new Measured(observed);
    this.down = new Measured(down);
  }

  /** How many pieces are kept for it. */
  get size(): number {
    return this.line.length + this.observed.length + this.down.length + this.outages.length;
  }

  lineIn(range: Span): Stretch[] {
    return cutTo(this.line, range);
  }

  measure(range: Span): { observedMs: number; downMs: number } {
    return { observedMs: this.observed.within(range), downMs: this.down.within(range) };
  }
}

/**
 * The history of one watch within a range: what is recorded of it, behind a past that was worked out before where there
 * is one, which may reach further back.
 */
export class WatchHistory {
  constructor(
    private readonly range: Span,
    private readonly recorded: Recorded,
    private readonly past: Past | null = null,
  ) {}

  /** Its states as one line without gaps. */
  line(range: Span): Stretch[] {
    const { stretches, outages } = this.recorded;
    if (!this.past) return calmLine(range, stretches, outages);
    const [before, since] = parted(range, this.past.to);
    const line = this.past.lineIn(before);
    if (since.to > since.from) for (const one of calmLine(since, stretches, outages)) line.push(one);
    return joinNeighbours(line);
  }

  availability(range: Span): Availability {
    const [before, since] = this.past ? parted(range, this.past.to) : [null, range];
    const known = before && this.past ? this.past.measure(before) : { observedMs: 0, downMs: 0 };
    const { stretches, outages } = this.recorded;
    const { observedMs, downMs } = availabilityOf(since, stretches, outages, outages.filter(isLeftOut));
    return availabilityOver(range, known.observedMs + observedMs, known.downMs + downMs);
  }

  /** When nobody looked. */
  get unseen(): Stretch[] {
    const unseen = this.recorded.stretches.filter(({ kind }) => kind === 'unobserved');
    return [...(this.past?.unseen ?? []), ...unseen];
  }

  /** All its outages, the oldest first. */
  get outages(): PastOutage[] {
    const { from, to } = this.range;
    const past = this.past?.outages.filter((outage) => outage.to > from && outage.from < to) ?? [];
    return [...past, ...this.recorded.outages];
  }

  /** Those that count in figures. */
  get counted(): PastOutage[] {
    return this.outages.filter((outage) => !isLeftOut(outage));
  }

  /** What of them is left out, the newest first. */
  get leftOut(): LeftOut[] {
    return this.outages.filter(isLeftOut).reverse();
  }
}
