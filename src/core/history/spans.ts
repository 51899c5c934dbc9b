/** A half-open stretch of time [from, to) in milliseconds since 1970. */
export interface Span {
  from: number;
  to: number;
}

/** The same by their beginning; what is in order already, as most of it is, is handed back as it is. */
export function inOrder<S extends Span>(spans: readonly S[]): readonly S[] {
  for (let i = 1; i < spans.length; i += 1) {
    if (spans[i - 1]!.from > spans[i]!.from) return [...spans].sort((a, b) => a.from - b.from);
  }
  return spans;
}

/** Sorts and joins overlapping or touching spans; empty ones fall away. */
export function unionSpans(spans: readonly Span[]): Span[] {
  const joined: Span[] = [];
  for (const span of inOrder(spans)) {
    if (span.to <= span.from) continue;
    const last = joined.at(-1);
    if (last && span.from <= last.to) last.to = Math.max(last.to, span.to);
    else joined.push({ from: span.from, to: span.to });
  }
  return joined;
}

/** Where both lists cover. */
export function intersectSpans(a: readonly Span[], b: readonly Span[]): Span[] {
  const left = unionSpans(a);
  const right = unionSpans(b);
  const common: Span[] = [];
  let i = 0;
  let j = 0;
  while (i < left.length && j < right.length) {
    const from = Math.max(left[i]!.from, right[j]!.from);
    const to = Math.min(left[i]!.to, right[j]!.to);
    if (to > from) common.push({ from, to });
    if (left[i]!.to < right[j]!.to) i += 1;
    else j += 1;
  }
  return common;
}

/** What of `a` is not covered by `b`; in one walk along both. */
export function subtractSpans(a: readonly Span[], b: readonly Span[]): Span[] {
  const holes = unionSpans(b);
  const rest: Span[] = [];
  let first = 0;
  for (const span of unionSpans(a)) {
    let { from } = span;
    while (first < holes.length && holes[first]!.to <= from) first += 1;
    for (let i = first; i < holes.length && holes[i]!.from < span.to; i += 1) {
      const hole = holes[i]!;
      if (hole.from > from) rest.push({ from, to: hole.from });
      from = Math.max(from, hole.to);
    }
    if (from < span.to) rest.push({ from, to: span.to });
  }
  return rest;
}

/** Covered time in milliseconds. */
export function totalOf(spans: readonly Span[]): number {
  return unionSpans(spans).reduce((sum, span) => sum + (span.to - span.from), 0);
}
