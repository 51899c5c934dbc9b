'use client';

import { scaleBand, scaleLinear } from 'd3-scale';
import { formatDuration } from '@/core/time/duration';
import type { Arrival } from '@/core/reports/runs';
import { formatIn, useZone } from '@/ui/form/zone';
import { ReadOut } from './read-out';
import { useWidth } from './use-width';

const HEIGHT = 96;
const MARGIN = { top: 10, right: 8, bottom: 22, left: 84 };
const FIRST_WIDTH = 800;

function wordsOf({ lateMs, runs, failed }: Arrival): string {
  if (lateMs === null) return 'nothing came';
  const when =
    Math.abs(lateMs) < 1000
      ? 'on time'
      : `${formatDuration(Math.abs(lateMs))} ${lateMs < 0 ? 'early' : 'after it was due'}`;
  return `${when}${runs > 1 ? `, ${runs} runs` : ''}${failed ? ', failed' : ''}`;
}

/** Due times against arrivals: how late each came, which did not come, which came twice. */
export function ArrivalStrip({ arrivals, leeway }: { arrivals: readonly Arrival[]; leeway: number }) {
  const zone = useZone();
  const [box, width] = useWidth<HTMLDivElement>(FIRST_WIDTH);
  const late = arrivals.map((arrival) => arrival.lateMs ?? 0);
  const most = Math.max(60_000, ...late, Math.min(leeway * 1000, Math.max(...late, 0) * 4 || 60_000)) * 1.1;
  const least = Math.min(0, ...late);
  const x = scaleBand(
    arrivals.map((arrival) => String(arrival.due)),
    [MARGIN.left, width - MARGIN.right],
  ).padding(0.2);
  const y = scaleLinear([least, most], [HEIGHT - MARGIN.bottom, MARGIN.top]);
  const missed = arrivals.filter((arrival) => arrival.lateMs === null).length;
  const doubled = arrivals.filter((arrival) => arrival.runs > 1).length;
  const first = arrivals[0]!;
  const last = arrivals.at(-1)!;
  const label =
    `The last ${arrivals.length} due times: ${missed === 0 ? 'all were answered' : `${missed} had no answer`}` +
    `${doubled === 0 ? '' : `, ${doubled} were answered more than once`}. The last one: ${wordsOf(last)}.`;
  const stops = arrivals.map((arrival) => {
    const left = x(String(arrival.due))!;
    return {
      from: left / width,
      to: (left + x.bandwidth()) / width,
    };
  });
  const say = (index: number) =>
    `${formatIn(arrivals[index]!.due, zone, 'moment')}: ${wordsOf(arrivals[index]!)}`;
  return (
    <div ref={box}>
      <ReadOut label={label} stops={stops} say={say}>
        <svg width={width} height={HEIGHT} className="max-w-full" aria-hidden>
          <line x1={MARGIN.left} x2={width - MARGIN.right} y1={y(0)} y2={y(0)} stroke="var(--edge)" />
          <text
            x={MARGIN.left - 8}
            y={y(0)}
            dy="0.32em"
            textAnchor="end"
            fontSize="0.78rem"
            fill="var(--muted)"
          >
            due
          </text>
          <text
            x={MARGIN.left - 8}
            y={MARGIN.top}
            dy="0.32em"
            textAnchor="end"
            fontSize="0.78rem"
            fill="var(--muted)"
          >
            +{formatDuration(most)}
          </text>
          {leeway * 1000 <= most * 0.85 && (
            <>
              <line
                x1={MARGIN.left}
                x2={width - MARGIN.right}
                y1={y(leeway * 1000)}
                y2={y(leeway * 1000)}
                stroke="var(--late)"
                strokeDasharray="5 4"
              />
              <text
                x={MARGIN.left - 8}
                y={y(leeway * 1000)}
                dy="0.32em"
                textAnchor="end"
                fontSize="0.78rem"
                fill="var(--late-text)"
              >
                +{formatDuration(leeway * 1000)}
              </text>
            </>
          )}
          {arrivals.map((arrival) => {
            const left = x(String(arrival.due))!;
            const middle = left + x.bandwidth() / 2;
            if (arrival.lateMs === null) {
              return (
                <g key={arrival.due} stroke="var(--down)" strokeWidth={1.8}>
                  <line x1={middle - 4} x2={middle + 4} y1={y(0) - 4} y2={y(0) + 4} />
                  <line x1={middle - 4} x2={middle + 4} y1={y(0) + 4} y2={y(0) - 4} />
                </g>
              );
            }
            const colour = arrival.failed ? 'var(--down)' : arrival.runs > 1 ? 'var(--late)' : 'var(--fine)';
            return (
              <g key={arrival.due}>
                <line x1={middle} x2={middle} y1={y(0)} y2={y(arrival.lateMs)} stroke={colour} />
                <circle cx={middle} cy={y(arrival.lateMs)} r={3} fill={colour} />
                {arrival.runs > 1 && (
                  <circle cx={middle} cy={y(arrival.lateMs)} r={5.5} fill="none" stroke={colour} />
                )}
              </g>
            );
          })}
          <text x={MARGIN.left} y={HEIGHT - 6} fontSize="0.78rem" fill="var(--muted)">
            {formatIn(first.due, zone, 'moment')}
          </text>
          <text
            x={width - MARGIN.right}
            y={HEIGHT - 6}
            textAnchor="end"
            fontSize="0.78rem"
            fill="var(--muted)"
          >
            {formatIn(last.due, zone, 'moment')}
          </text>
        </svg>
      </ReadOut>
    </div>
  );
}
