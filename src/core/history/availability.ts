import { intersectSpans, subtractSpans, totalOf, unionSpans, type Span } from './spans';
import { isObserved, type StretchKind } from '@/core/lifecycle/state';

export interface Stretch extends Span {
  kind: StretchKind;
}

export interface Availability {
  spanMs: number;
  observedMs: number;
  downMs: number;
  /** 1 − down / observed, or null when nothing was observed. */
  uptime: number | null;
}

/**
 * observed = what was seen, without what nobody looked at and what is left out; down = observed ∩ outages. Both in
 * order and apart.
 */
export function observedIn(
  range: Span,
  stretches: readonly Stretch[],
  outages: readonly Span[],
  leftOut: readonly Span[],
): { observed: Span[]; down: Span[] } {
  // What lies beside the range is left out first: a year of stretches is not gone through for a day of them.
  const meets = (span: Span) => span.from < range.to && span.to > range.from;
  const seen = stretches.filter((s) => meets(s) && isObserved(s.kind));
  const unseen = stretches.filter((s) => meets(s) && s.kind === 'unobserved');
  const observed = subtractSpans(intersectSpans([range], subtractSpans(seen, unseen)), leftOut);
  return { observed, down: intersectSpans(observed, outages.filter(meets)) };
}

/** uptime = 1 − down / observed, or null when nothing was observed. */
export function availabilityOver(range: Span, observedMs: number, downMs: number): Availability {
  return {
    spanMs: Math.max(0, range.to - range.from),
    observedMs,
    downMs,
    uptime: observedMs > 0 ? 1 - downMs / observedMs : null,
  };
}

/**
 * uptime = 1 − downtime / observed, where downtime = observed ∩ outages. Exact to the millisecond from the
 * spans of states and outages; looks are never counted. Time without a stretch is not observed. What a person has left
 * out for a reason is neither observed nor down.
 */
export function availabilityOf(
  range: Span,
  stretches: readonly Stretch[],
  outages: readonly Span[],
  leftOut: readonly Span[] = [],
): Availability {
  const { observed, down } = observedIn(range, stretches, outages, leftOut);
  return availabilityOver(range, totalOf(observed), totalOf(down));
}

/** "99.93 %", "100 %" only when it is exactly that, "no data" when nothing was observed. Rounds down. */
export function formatUptime(uptime: number | null): string {
  if (uptime === null) return 'no data';
  if (uptime >= 1) return '100 %';
  const floored = Math.floor(uptime * 10_000 + 1e-7) / 100;
  const shown = floored >= 100 ? 99.99 : floored;
  return `${shown.toFixed(2).replace(/\.?0+$/, '')} %`;
}

export interface OutageFigures {
  count: number;
  totalMs: number;
  longestMs: number;
  /** Mean time by the clock from one outage's end to the next one's beginning; null below two outages. */
  meanBetweenMs: number | null;
  /** Mean time to mend; null without outages. */
  meanToMendMs: number | null;
}

/** Figures over the outages that overlap the range, each cut to it. */
export function outageFigures(range: Span, outages: readonly Span[]): OutageFigures {
  const cut = unionSpans(
    outages.map((o) => ({ from: Math.max(o.from, range.from), to: Math.min(o.to, range.to) })),
  );
  const lengths = cut.map((o) => o.to - o.from);
  const totalMs = lengths.reduce((a, b) => a + b, 0);
  const between = cut.slice(1).map((o, i) => o.from - cut[i]!.to);
  return {
    count: cut.length,
    totalMs,
    longestMs: Math.max(0, ...lengths),
    meanBetweenMs: between.length > 0 ? between.reduce((a, b) => a + b, 0) / between.length : null,
    meanToMendMs: cut.length > 0 ? totalMs / cut.length : null,
  };
}
