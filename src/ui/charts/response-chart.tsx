'use client';

import type { Stretch } from '@/core/history/availability';
import { formatMs } from '@/core/time/duration';
import type { ChartPoint } from '@/core/history/response-chart';
import { BandChart } from './band-chart';

interface ResponseChartProps {
  range: { from: number; to: number };
  points: readonly ChartPoint[];
  bands: readonly Stretch[];
  slowAfter: number | null;
}

/** How long looks take: the median as a line, the 95th percentile as the upper edge of the band. */
export function ResponseChart({ range, points, bands, slowAfter }: ResponseChartProps) {
  const count = points.reduce((sum, p) => sum + p.count, 0);
  const medians = points.map((p) => p.median);
  return (
    <BandChart
      range={range}
      points={points.map((p) => ({ at: p.at, low: p.median, mid: p.median, high: p.p95 }))}
      bands={bands}
      limits={
        slowAfter === null ? [] : [{ value: slowAfter, label: `slow over ${slowAfter} ms`, tone: 'late' }]
      }
      lengths
      format={formatMs}
      say={({ mid, high }) =>
        high > mid ? `median ${formatMs(mid)}, 95 in 100 within ${formatMs(high)}` : formatMs(mid)
      }
      label={`Response times of ${count} looks: median between ${formatMs(Math.min(...medians))} and ${formatMs(Math.max(...medians))}.`}
    />
  );
}
