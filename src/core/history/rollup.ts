import { mergeHistograms, type Histogram } from './histogram';

/** Readings of a stretch of time: least, most, their sum, and how many. */
export interface Readings {
  least: number;
  most: number;
  total: number;
  count: number;
}

/** What an hour or a day of looks came to, by its beginning. */
export interface Rollup {
  hour: number;
  fine: number;
  failed: number;
  /** Response times of the fine ones. */
  times: Histogram;
  /** Null where nothing was read. */
  readings: Readings | null;
}

export function mergeReadings(a: Readings | null, b: Readings | null): Readings | null {
  if (!a || !b) return a ?? b;
  return {
    least: Math.min(a.least, b.least),
    most: Math.max(a.most, b.most),
    total: a.total + b.total,
    count: a.count + b.count,
  };
}

/** Several rollups put together into the one that begins at `hour`. */
export function mergeRollups(hour: number, parts: readonly Rollup[]): Rollup {
  return {
    hour,
    fine: parts.reduce((sum, part) => sum + part.fine, 0),
    failed: parts.reduce((sum, part) => sum + part.failed, 0),
    times: mergeHistograms(parts.map((part) => part.times)),
    readings: parts.reduce<Readings | null>((sum, part) => mergeReadings(sum, part.readings), null),
  };
}
