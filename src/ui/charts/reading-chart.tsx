'use client';

import type { Stretch } from '@/core/history/availability';
import { readingText, type Limits } from '@/core/expect/limits';
import type { ReadingPoint } from '@/views/history/readings';
import { BandChart, type ChartLimit } from './band-chart';

interface ReadingChartProps {
  range: { from: number; to: number };
  points: readonly ReadingPoint[];
  bands: readonly Stretch[];
  unit: string;
  limits: Limits;
}

/** What was read: the mean as a line, least and most as the edges of the band, limits dashed. */
export function ReadingChart({ range, points, bands, unit, limits }: ReadingChartProps) {
  const all: [number | null, string, ChartLimit['tone']][] = [
    [limits.failLow, 'fails under', 'down'],
    [limits.warnLow, 'warns under', 'late'],
    [limits.warnHigh, 'warns over', 'late'],
    [limits.failHigh, 'fails over', 'down'],
  ];
  const shown = all.flatMap(([value, words, tone]) =>
    value === null ? [] : [{ value, tone, label: `${words} ${readingText(value, unit)}` }],
  );
  const least = Math.min(...points.map((p) => p.least));
  const most = Math.max(...points.map((p) => p.most));
  return (
    <BandChart
      range={range}
      points={points.map((p) => ({ at: p.at, low: p.least, mid: p.mean, high: p.most }))}
      bands={bands}
      limits={shown}
      format={(value) => readingText(value, unit)}
      say={({ low, mid, high }) =>
        high > low
          ? `mean ${readingText(mid, unit)}, from ${readingText(low, unit)} to ${readingText(high, unit)}`
          : readingText(mid, unit)
      }
      label={`Readings between ${readingText(least, unit)} and ${readingText(most, unit)}.`}
    />
  );
}
