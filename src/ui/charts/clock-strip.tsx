'use client';

import { scaleLinear } from 'd3-scale';
import { useRouter } from 'next/navigation';
import { clockRows } from './clock-rows';
import type { ClockMark } from '@/views/jobs/jobs';
import { useWidth } from './use-width';

const FIRST_WIDTH = 1100;
const ROW = 9;
const TOP = 8;
const BOTTOM = 22;
const SIDE = 12;
const DAY_MINUTES = 1440;
const HOURS = [0, 3, 6, 9, 12, 15, 18, 21, 24];
const NARROW = 600;

function clock(minute: number): string {
  const two = (value: number) => String(value).padStart(2, '0');
  return `${two(Math.floor(minute / 60))}:${two(minute % 60)}`;
}

/** The busiest hour, in words, for whoever does not see the strip. */
function crowdText(marks: readonly ClockMark[]): string {
  if (marks.length === 0) return 'No job is due at a set time in the next 24 hours.';
  const hours = Array.from(
    { length: 24 },
    (_, hour) => marks.filter((m) => Math.floor(m.minute / 60) === hour).length,
  );
  const most = Math.max(...hours);
  const hour = hours.indexOf(most);
  return `${marks.length} due times in the next 24 hours; the most, ${most}, between ${clock(hour * 60)} and ${clock((hour + 1) * 60)}.`;
}

/** The day as a clock strip: where jobs are due and how long they usually run, so that crowds show. */
export function ClockStrip({ marks, nowMinute }: { marks: readonly ClockMark[]; nowMinute: number }) {
  const router = useRouter();
  const [box, width] = useWidth<HTMLDivElement>(FIRST_WIDTH);
  const x = scaleLinear([0, DAY_MINUTES], [SIDE, width - SIDE]);
  const least = (7 / (width - 2 * SIDE)) * DAY_MINUTES;
  const rows = clockRows(marks, least);
  const height = TOP + Math.max(3, rows.length) * ROW + BOTTOM;
  return (
    <div ref={box}>
      <svg width={width} height={height} className="max-w-full" role="img" aria-label={crowdText(marks)}>
        {HOURS.filter((hour) => width > NARROW || hour % 6 === 0).map((hour) => (
          <g key={hour}>
            <line x1={x(hour * 60)} x2={x(hour * 60)} y1={2} y2={height - BOTTOM + 2} stroke="var(--rule)" />
            <text
              x={x(hour * 60)}
              y={height - 6}
              textAnchor={hour === 0 ? 'start' : hour === 24 ? 'end' : 'middle'}
              fontSize="0.78rem"
              fill="var(--muted)"
            >
              {clock(hour * 60)}
            </text>
          </g>
        ))}
        <line
          x1={x(nowMinute)}
          x2={x(nowMinute)}
          y1={0}
          y2={height - BOTTOM + 2}
          stroke="var(--lamp)"
          strokeWidth={2}
        />
        {rows.map((row, i) =>
          row.map((mark) => (
            <rect
              key={`${mark.id}-${mark.minute}`}
              x={x(mark.minute)}
              y={height - BOTTOM - (i + 1) * ROW}
              width={Math.max(5, x(Math.min(DAY_MINUTES, mark.minute + mark.lasts)) - x(mark.minute))}
              height={ROW - 3}
              rx={2}
              fill="var(--fine)"
              className="cursor-pointer"
              onClick={() => router.push(`/watches/${mark.id}`)}
            >
              <title>{`${clock(mark.minute)} ${mark.name}`}</title>
            </rect>
          )),
        )}
      </svg>
    </div>
  );
}
