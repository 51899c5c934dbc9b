'use client';

import type { Stretch } from '@/core/history/availability';
import { formatMs } from '@/core/time/duration';
import type { RunPoint } from '@/views/history/runs';
import { BandChart } from './band-chart';

interface RunChartProps {
  range: { from: number; to: number };
  points: readonly RunPoint[];
  bands: readonly Stretch[];
  /** Seconds; null for no limit. */
  longestRun: number | null;
}

const MOST_COLUMNS = 160;

/** Where runs crowd, the middle one of each column stands for all. */
function grouped(points: readonly RunPoint[], { from, to }: RunChartProps['range']): RunPoint[] {
  const columns = new Map<number, RunPoint[]>();
  for (const point of points) {
    const column = Math.floor(((point.at - from) / (to - from)) * MOST_COLUMNS);
    columns.set(column, [...(columns.get(column) ?? []), point]);
  }
  return [...columns.values()].map((column) => {
    const sorted = [...column].sort((a, b) => a.ms - b.ms);
    return { ...column[Math.floor(column.length / 2)]!, ms: sorted[Math.floor(sorted.length / 2)]!.ms };
  });
}

/** How long runs took: each run on the line, what was usual before it as the band, the allowed time dashed. */
export function RunChart({ range, points, bands, longestRun }: RunChartProps) {
  const inside = points.filter((point) => point.at >= range.from && point.at <= range.to);
  const lengths = inside.map((point) => point.ms);
  const columns = inside.length > MOST_COLUMNS ? grouped(inside, range) : inside;
  return (
    <BandChart
      shownWith="the first run whose beginning and end were reported"
      range={range}
      points={columns.map(({ at, low, ms, high }) => ({ at, low, mid: ms, high }))}
      bands={bands}
      limits={
        longestRun === null
          ? []
          : [{ value: longestRun * 1000, label: `allowed ${formatMs(longestRun * 1000)}`, tone: 'late' }]
      }
      lengths
      format={formatMs}
      say={({ low, mid, high }) =>
        `took ${formatMs(mid)}${high > low ? `; usual before it: ${formatMs(low)} to ${formatMs(high)}` : ''}`
      }
      label={
        inside.length === 0
          ? 'No run was measured.'
          : `Lengths of ${inside.length} runs, between ${formatMs(Math.min(...lengths))} and ${formatMs(Math.max(...lengths))}.`
      }
    />
  );
}
