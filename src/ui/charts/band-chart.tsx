'use client';

import { max, min } from 'd3-array';
import { scaleLinear } from 'd3-scale';
import { area, curveMonotoneX, line } from 'd3-shape';
import type { Stretch } from '@/core/history/availability';
import { lengthTicks, timeTicks } from './time-ticks';
import { formatIn, useZone } from '@/ui/form/zone';
import { ReadOut } from './read-out';
import { useWidth } from './use-width';

/** One column of a chart: the line runs through `mid`, the band from `low` to `high`. */
export interface BandPoint {
  at: number;
  low: number;
  mid: number;
  high: number;
}

export interface ChartLimit {
  value: number;
  label: string;
  tone: 'late' | 'down';
}

interface BandChartProps {
  range: { from: number; to: number };
  points: readonly BandPoint[];
  /** Outages and maintenance, shaded. */
  bands: readonly Stretch[];
  limits: readonly ChartLimit[];
  /** The values are lengths of time in ms; the axis begins at zero. */
  lengths?: boolean;
  format: (value: number) => string;
  /** What one column says when it is read out. */
  say: (point: BandPoint) => string;
  /** What the chart shows, for those who do not see it. */
  label: string;
  /** What there has to be before it shows anything. */
  shownWith?: string;
}

const FIRST_WIDTH = 800;
const HEIGHT = 250;
const MARGIN = { top: 14, right: 8, bottom: 24, left: 84 };
/** A hole in the points wider than this many columns breaks the line: nobody looked there. */
const HOLE_COLUMNS = 3;

/** Splits the points where nobody looked, so that no line is drawn across. */
function withoutHoles(points: readonly BandPoint[]): BandPoint[][] {
  const steps = points.slice(1).map((p, i) => p.at - points[i]!.at);
  const usual = steps.length > 0 ? Math.min(...steps) : 0;
  const runs: BandPoint[][] = [];
  for (const [i, point] of points.entries()) {
    if (i === 0 || point.at - points[i - 1]!.at > usual * HOLE_COLUMNS) runs.push([]);
    runs.at(-1)!.push(point);
  }
  return runs;
}

/** A line with a band about it over time, outages shaded, limits dashed. */
export function BandChart({
  range,
  points,
  bands,
  limits,
  lengths,
  format,
  say,
  label,
  shownWith = 'the first looks',
}: BandChartProps) {
  const zone = useZone();
  const [box, width] = useWidth<HTMLDivElement>(FIRST_WIDTH);
  if (points.length === 0) {
    return (
      <div ref={box}>
        <p className="text-muted py-10 text-center">Nothing in this range yet. It shows with {shownWith}.</p>
      </div>
    );
  }
  const highest = Math.max(max(points, (p) => p.high) ?? 1, ...limits.map((limit) => limit.value));
  const lowest = lengths
    ? 0
    : Math.min(min(points, (p) => p.low) ?? 0, ...limits.map((limit) => limit.value));
  const room = (highest - lowest || Math.abs(highest) || 1) * 0.08;
  const x = scaleLinear([range.from, range.to], [MARGIN.left, width - MARGIN.right]);
  const heights = [HEIGHT - MARGIN.bottom, MARGIN.top];
  const given = lengths ? lengthTicks(highest + room, 5) : null;
  const y = given
    ? scaleLinear([0, given.at(-1)!], heights)
    : scaleLinear([lowest - room, highest + room], heights).nice(4);
  const runs = withoutHoles(points);
  const band = area<BandPoint>(
    (p) => x(p.at),
    (p) => y(p.low),
    (p) => y(p.high),
  ).curve(curveMonotoneX);
  const middle = line<BandPoint>(
    (p) => x(p.at),
    (p) => y(p.mid),
  ).curve(curveMonotoneX);
  const stops = points.map((point) => {
    const share = x(point.at) / width;
    return { from: share, to: share };
  });
  const sayAt = (index: number) => `${formatIn(points[index]!.at, zone, 'moment')}: ${say(points[index]!)}`;
  return (
    <div ref={box}>
      <ReadOut label={label} stops={stops} say={sayAt}>
        <svg viewBox={`0 0 ${width} ${HEIGHT}`} className="w-full" aria-hidden>
          {(given ?? y.ticks(4)).map((tick) => (
            <g key={tick}>
              <line
                x1={MARGIN.left}
                x2={width - MARGIN.right}
                y1={y(tick)}
                y2={y(tick)}
                stroke="var(--rule)"
              />
              <text
                x={MARGIN.left - 8}
                y={y(tick) + 4}
                textAnchor="end"
                fontSize="0.75rem"
                fill="var(--muted)"
                className="figures"
              >
                {format(tick)}
              </text>
            </g>
          ))}
          {timeTicks(range, zone, Math.max(3, Math.round(width / 95))).map((tick) => (
            <text
              key={tick.at}
              x={x(tick.at)}
              y={HEIGHT - 6}
              textAnchor="middle"
              fontSize="0.75rem"
              fill="var(--muted)"
            >
              {tick.label}
            </text>
          ))}
          {bands.map((b) => (
            <rect
              key={b.from}
              x={x(b.from)}
              y={MARGIN.top}
              width={Math.max(2, x(b.to) - x(b.from))}
              height={HEIGHT - MARGIN.top - MARGIN.bottom}
              fill={b.kind === 'down' ? 'var(--down)' : 'var(--rest)'}
              fillOpacity={b.kind === 'down' ? 0.55 : 0.25}
            />
          ))}
          {runs.map((run) => (
            <g key={run[0]!.at}>
              <path d={band(run) ?? ''} fill="var(--wash)" />
              <path
                d={middle(run) ?? ''}
                fill="none"
                stroke="var(--fine)"
                strokeWidth="2"
                strokeLinecap="round"
              />
              {run.length === 1 && (
                <circle cx={x(run[0]!.at)} cy={y(run[0]!.mid)} r="2.5" fill="var(--fine)" />
              )}
            </g>
          ))}
          {limits.map((limit) => (
            <g key={limit.label}>
              <line
                x1={MARGIN.left}
                x2={width - MARGIN.right}
                y1={y(limit.value)}
                y2={y(limit.value)}
                stroke={`var(--${limit.tone})`}
                strokeDasharray="5 4"
              />
              <text
                x={width - MARGIN.right}
                y={y(limit.value) - 5}
                textAnchor="end"
                fontSize="0.75rem"
                fill={`var(--${limit.tone}-text)`}
              >
                {limit.label}
              </text>
            </g>
          ))}
        </svg>
      </ReadOut>
    </div>
  );
}
