import { addToHistogram, emptyHistogram, mergeHistograms, quantileOf, type Histogram } from './histogram';

/** One column of the response chart: the times of the looks in it. */
export interface ChartPoint {
  at: number;
  median: number;
  p95: number;
  count: number;
}

/** Hours rolled up and single looks since then, brought into columns of one width. */
export function chartPoints(
  range: { from: number; to: number },
  widthMs: number,
  rollups: readonly { hour: number; times: Histogram }[],
  looks: readonly { at: number; ms: number }[],
): ChartPoint[] {
  const columns = new Map<number, Histogram[]>();
  const columnOf = (at: number) => Math.floor((at - range.from) / widthMs);
  const into = (column: number): Histogram[] => {
    const parts = columns.get(column) ?? [];
    columns.set(column, parts);
    return parts;
  };
  for (const rollup of rollups) into(columnOf(rollup.hour)).push(rollup.times);
  const singles = new Map<number, Histogram>();
  for (const look of looks) {
    const column = columnOf(look.at);
    let histogram = singles.get(column);
    if (!histogram) {
      histogram = emptyHistogram();
      singles.set(column, histogram);
      into(column).push(histogram);
    }
    addToHistogram(histogram, look.ms);
  }
  return [...columns]
    .sort(([a], [b]) => a - b)
    .flatMap(([column, parts]) => {
      const whole = mergeHistograms(parts);
      const median = quantileOf(whole, 0.5);
      const p95 = quantileOf(whole, 0.95);
      if (median === null || p95 === null) return [];
      return [{ at: range.from + (column + 0.5) * widthMs, median, p95, count: whole.count }];
    });
}
