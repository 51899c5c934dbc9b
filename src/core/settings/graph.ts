/** Which watch leads to which others: by resting on them, or by being put together from them. */
export type Edges = ReadonlyMap<number, readonly number[]>;

/** A way from `start` back to itself, its ends included, or null where there is none. */
export function circleFrom(edges: Edges, start: number): number[] | null {
  const seen = new Set<number>();
  const walk = (at: number, path: number[]): number[] | null => {
    for (const next of edges.get(at) ?? []) {
      if (next === start) return [...path, next];
      if (seen.has(next)) continue;
      seen.add(next);
      const circle = walk(next, [...path, next]);
      if (circle) return circle;
    }
    return null;
  };
  return walk(start, [start]);
}

/** Everything below a watch, the nearest first, each once. */
export function allBelow(edges: Edges, start: number): number[] {
  const found = new Set<number>();
  let layer = [start];
  while (layer.length > 0) {
    layer = layer.flatMap((id) => edges.get(id) ?? []).filter((id) => id !== start && !found.has(id));
    for (const id of layer) found.add(id);
  }
  return [...found];
}
