import { scaleLinear } from 'd3-scale';
import type { Stretch } from '@/core/history/availability';
import type { StretchKind } from '@/core/lifecycle/state';

/** Height in pixels and fill of each kind of stretch: trouble stands up from the line. */
const LOOKS: Record<StretchKind, { height: number; fill: string; edge?: string }> = {
  up: { height: 2.5, fill: 'var(--fine)' },
  slow: { height: 7, fill: 'var(--late)' },
  doubtful: { height: 7, fill: 'var(--late)' },
  overdue: { height: 10, fill: 'var(--late)' },
  down: { height: 18, fill: 'var(--down)' },
  maintenance: { height: 12, fill: 'url(#calm-hatch)', edge: 'var(--rest)' },
  paused: { height: 1.5, fill: 'var(--idle)' },
  waiting: { height: 2.5, fill: 'url(#calm-dots)' },
  unobserved: { height: 2.5, fill: 'url(#calm-dots)' },
};

/** The patterns the lines are filled with; once on a page. */
export function CalmLinePatterns() {
  return (
    <svg width="0" height="0" className="absolute" aria-hidden>
      <defs>
        <pattern
          id="calm-hatch"
          width="5"
          height="5"
          patternUnits="userSpaceOnUse"
          patternTransform="rotate(45)"
        >
          <rect width="5" height="5" fill="var(--rest)" fillOpacity=".22" />
          <rect width="2" height="5" fill="var(--rest)" />
        </pattern>
        <pattern id="calm-dots" width="6" height="2.5" patternUnits="userSpaceOnUse" y="-1.25">
          <rect width="2" height="2.5" fill="var(--idle)" />
        </pattern>
      </defs>
    </svg>
  );
}

/** Trouble shorter than this is drawn this wide, so that it can be seen. */
const LEAST_WIDTH_PX = 2.5;

/**
 * One watch's history as a continuous line to the scale of time. Positions are in percent, so the line
 * stretches with its column without being measured.
 */
export function CalmLine({
  line,
  range,
  height = 22,
}: {
  line: readonly Stretch[];
  range: { from: number; to: number };
  height?: number;
}) {
  const x = scaleLinear([range.from, range.to], [0, 100]);
  const middle = height / 2;
  // Calm stretches first, so that short trouble is never painted over.
  const ordered = [...line].sort((a, b) => LOOKS[a.kind].height - LOOKS[b.kind].height);
  return (
    <svg width="100%" height={height} className="relative block overflow-visible" aria-hidden>
      <g transform={`translate(0 ${middle})`}>
        {ordered.map((stretch) => {
          const look = LOOKS[stretch.kind];
          const calm = look.height <= 2.5;
          return (
            <rect
              key={`${stretch.from} ${stretch.kind}`}
              x={`${x(stretch.from)}%`}
              y={-look.height / 2}
              width={`${x(stretch.to) - x(stretch.from)}%`}
              height={look.height}
              rx={calm ? 0 : 1.5}
              fill={look.fill}
              {...(!calm && { stroke: look.edge ?? look.fill, strokeWidth: LEAST_WIDTH_PX })}
            />
          );
        })}
      </g>
    </svg>
  );
}
