'use client';

import { area, curveMonotoneX, line, max, scaleLinear } from 'd3';
import type { Stretch } from '../../core/availability';
import { formatMs } from '../../core/duration';
import type { ChartPoint } from '../../core/response-chart';
import { timeTicks } from '../../core/time-ticks';
import { useZone } from '../zone';
import { useWidth } from './use-width';

interface ResponseChartProps {
  range: { from: number; to: number };
  points: readonly ChartPoint[];
  /** Outages and maintenance, shaded. */
  bands: readonly Stretch[];
  slowAfter: number | null;
}

const FIRST_WIDTH = 800;
const HEIGHT = 250;
const MARGIN = { top: 14, right: 8, bottom: 24, left: 84 };
/** A hole in the points wider than this many columns breaks the line: nobody looked there. */
const HOLE_COLUMNS = 3;

/** Splits the points where nobody looked, so that no line is drawn across. */
function withoutHoles(points: readonly ChartPoint[]): ChartPoint[][] {
  const steps = points.slice(1).map((p, i) => p.at - points[i]!.at);
  const usual = steps.length > 0 ? Math.min(...steps) : 0;
  const runs: ChartPoint[][] = [];
  for (const [i, point] of points.entries()) {
    if (i === 0 || point.at - points[i - 1]!.at > usual * HOLE_COLUMNS) runs.push([]);
    runs.at(-1)!.push(point);
  }
  return runs;
}

/** How long looks take: the median as a line, the 95th percentile as the upper edge of the band. */
export function ResponseChart({ range, points, bands, slowAfter }: ResponseChartProps) {
  const zone = useZone();
  const [box, width] = useWidth<HTMLDivElement>(FIRST_WIDTH);
  if (points.length === 0) {
    return (
      <div ref={box}>
        <p className="text-muted py-10 text-center">
          No times yet in this range. They show with the first looks.
        </p>
      </div>
    );
  }
  const highest = Math.max(max(points, (p) => p.p95) ?? 1, slowAfter ?? 0);
  const x = scaleLinear([range.from, range.to], [MARGIN.left, width - MARGIN.right]);
  const y = scaleLinear([0, highest * 1.08], [HEIGHT - MARGIN.bottom, MARGIN.top]).nice(4);
  const runs = withoutHoles(points);
  const band = area<ChartPoint>(
    (p) => x(p.at),
    (p) => y(p.median),
    (p) => y(p.p95),
  ).curve(curveMonotoneX);
  const median = line<ChartPoint>(
    (p) => x(p.at),
    (p) => y(p.median),
  ).curve(curveMonotoneX);
  const count = points.reduce((sum, p) => sum + p.count, 0);
  return (
    <div ref={box}>
      <svg
        viewBox={`0 0 ${width} ${HEIGHT}`}
        className="w-full"
        role="img"
        aria-label={`Response times of ${count} looks: median between ${formatMs(Math.min(...points.map((p) => p.median)))} and ${formatMs(Math.max(...points.map((p) => p.median)))}.`}
      >
        {y.ticks(4).map((tick) => (
          <g key={tick}>
            <line x1={MARGIN.left} x2={width - MARGIN.right} y1={y(tick)} y2={y(tick)} stroke="var(--rule)" />
            <text
              x={MARGIN.left - 8}
              y={y(tick) + 4}
              textAnchor="end"
              fontSize="12"
              fill="var(--muted)"
              className="figures"
            >
              {formatMs(tick)}
            </text>
          </g>
        ))}
        {timeTicks(range, zone, Math.max(3, Math.round(width / 95))).map((tick) => (
          <text
            key={tick.at}
            x={x(tick.at)}
            y={HEIGHT - 6}
            textAnchor="middle"
            fontSize="12"
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
              d={median(run) ?? ''}
              fill="none"
              stroke="var(--fine)"
              strokeWidth="2"
              strokeLinecap="round"
            />
            {run.length === 1 && (
              <circle cx={x(run[0]!.at)} cy={y(run[0]!.median)} r="2.5" fill="var(--fine)" />
            )}
          </g>
        ))}
        {slowAfter !== null && (
          <g>
            <line
              x1={MARGIN.left}
              x2={width - MARGIN.right}
              y1={y(slowAfter)}
              y2={y(slowAfter)}
              stroke="var(--late)"
              strokeDasharray="5 4"
            />
            <text
              x={width - MARGIN.right}
              y={y(slowAfter) - 5}
              textAnchor="end"
              fontSize="12"
              fill="var(--late-text)"
            >
              slow over {slowAfter} ms
            </text>
          </g>
        )}
      </svg>
    </div>
  );
}
