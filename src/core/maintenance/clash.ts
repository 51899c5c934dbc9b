/** Planned time and what it covers. */
export interface Planned {
  id: number;
  seriesId: number | null;
  title: string;
  /** Ids of the watches, however they were chosen. */
  covers: readonly number[];
  begins: number;
  ends: number;
}

/** Where two plans are for the same watches at the same time. */
export interface Clash {
  windowId: number;
  title: string;
  watchIds: number[];
  from: number;
  until: number;
}

const MOST_CLASHES = 20;

/**
 * What of what is planned already overlaps with times that are planned now; itself, and the series it is of, left out.
 * Touching is no clash.
 */
export function clashesOf(
  times: readonly { begins: number; ends: number }[],
  covers: readonly number[],
  others: readonly Planned[],
  own: { id: number | null; seriesId: number | null },
): Clash[] {
  const wanted = new Set(covers);
  const found: Clash[] = [];
  for (const other of others) {
    if (other.id === own.id || (own.seriesId !== null && other.seriesId === own.seriesId)) continue;
    const watchIds = other.covers.filter((id) => wanted.has(id));
    if (watchIds.length === 0) continue;
    const time = times.find(({ begins, ends }) => begins < other.ends && other.begins < ends);
    if (!time) continue;
    found.push({
      windowId: other.id,
      title: other.title,
      watchIds,
      from: Math.max(time.begins, other.begins),
      until: Math.min(time.ends, other.ends),
    });
  }
  return found.sort((a, b) => a.from - b.from).slice(0, MOST_CLASHES);
}
