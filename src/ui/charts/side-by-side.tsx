'use client';

import {
  useCallback,
  useEffect,
  useMemo,
  useRef,
  useState,
  type CSSProperties,
  type KeyboardEvent,
  type PointerEvent,
} from 'react';
import { worstWithin } from '@/core/history/calm-line';
import { STRETCH_WORDS } from '@/core/history/line-text';
import { SEVERITY } from '@/core/lifecycle/state';
import { timeTicks } from './time-ticks';
import type { OverviewRow } from '@/views/overview/lines';
import { formatIn, useZone } from '@/ui/form/zone';
import { CalmLinePatterns } from './calm-line';
import { useDesk } from '@/ui/overview/live-desk';
import { LateLines } from '@/ui/overview/late-lines';
import { LINE_GRID, LineRows } from '@/ui/overview/line-rows';

interface SideBySideProps {
  /** The first rows. */
  rows: readonly OverviewRow[];
  /** How many there are in all. */
  shown: number;
  /** Those behind the first, by what they are asked for with. */
  later: readonly { query: string; before: number; count: number }[];
  bySection: boolean;
  range: { from: number; to: number };
  rangeLabel: string;
  /** When this was read. */
  readAt: number;
}

const MOST_NAMED = 5;
const KEY_STEP = 0.01;
const USUAL_POINTS = 650;

/** What was not well around a moment: as long as the point it is drawn at stands for. */
function readOut(rows: readonly OverviewRow[], at: number, pointMs: number) {
  const off = rows.flatMap((row) => {
    const kind = worstWithin(row.line, at - pointMs / 2, at + pointMs / 2);
    return kind && SEVERITY[kind] >= 3 ? [{ name: row.name, kind }] : [];
  });
  if (off.length === 0) return { title: 'nothing was wrong', lines: [] };
  const lines = off.slice(0, MOST_NAMED).map((o) => `${o.name}: ${STRETCH_WORDS[o.kind]}`);
  if (off.length > MOST_NAMED) lines.push(`and ${off.length - MOST_NAMED} more`);
  return { title: off.length === 1 ? 'one was not well' : `${off.length} were not well together`, lines };
}

/** All lines on one clock, with a hairline that reads every watch out at one moment. */
export function SideBySide(props: SideBySideProps) {
  const { shown, later, bySection, range, rangeLabel, readAt } = props;
  const { newest, show } = useDesk();
  const rows = useMemo(() => props.rows.map(newest), [props.rows, newest]);
  useEffect(() => show(0, props.rows), [show, props.rows]);
  const zone = useZone();
  const track = useRef<HTMLDivElement>(null);
  const [hair, setHair] = useState<number | null>(null);
  /** As many as the lines are wide. */
  const [points, setPoints] = useState(USUAL_POINTS);
  /** Where the read-out stands, in pixels from the top of the panel. */
  const [height, setHeight] = useState(40);
  const ticks = useMemo(() => timeTicks(range, zone, 9), [range, zone]);
  const shared = { shown, bySection, range, rangeLabel, ticks };
  /** What is there of the rows behind the first, by how many stand before. */
  const [late, setLate] = useState<ReadonlyMap<number, readonly OverviewRow[]>>(new Map());
  const keep = useCallback(
    (before: number, some: readonly OverviewRow[]) => {
      setLate((now) => new Map(now).set(before, some));
      show(before, some);
    },
    [show],
  );
  const span = range.to - range.from;
  const at = hair === null ? null : range.from + hair * span;
  const read = at === null ? null : readOut([...rows, ...[...late.values()].flat()], at, span / points);
  const moment = at === null ? '' : formatIn(at, zone, 'moment');

  const follow = (event: PointerEvent<HTMLElement>) => {
    const box = track.current?.getBoundingClientRect();
    if (!box || box.width === 0) return;
    const share = (event.clientX - box.left) / box.width;
    setHeight(event.clientY - event.currentTarget.getBoundingClientRect().top + 18);
    setPoints(box.width);
    setHair(share >= 0 && share <= 1 ? share : null);
  };
  const onKey = (event: KeyboardEvent) => {
    const step = event.key === 'ArrowLeft' ? -KEY_STEP : event.key === 'ArrowRight' ? KEY_STEP : 0;
    if (event.key === 'Escape') setHair(null);
    if (step === 0) return;
    event.preventDefault();
    setHair((now) => Math.min(0.9999, Math.max(0, (now ?? 1) + step)));
  };

  return (
    <div
      className="sheet group/lines relative px-4 py-3"
      data-hair={hair === null ? 'off' : 'on'}
      style={{ '--hair': `${(hair ?? 0) * 100}%` } as CSSProperties}
      onPointerMove={follow}
      onPointerLeave={() => setHair(null)}
    >
      <CalmLinePatterns />
      <div className={`${LINE_GRID} text-muted text-[0.8125rem]`}>
        <span className="max-md:hidden" />
        <div
          ref={track}
          role="slider"
          tabIndex={0}
          aria-label="Hairline: read every watch out at one moment"
          aria-valuemin={0}
          aria-valuemax={100}
          aria-valuenow={Math.round((hair ?? 1) * 100)}
          aria-valuetext={read ? `${moment}, ${read.title}. ${read.lines.join('. ')}` : 'now'}
          onKeyDown={onKey}
          className="relative h-6 max-md:hidden"
        >
          {ticks.map((tick) => {
            const share = (tick.at - range.from) / span;
            return share < 0.02 || share > 0.95 ? null : (
              <span
                key={tick.at}
                className="figures absolute -translate-x-1/2 text-[0.7812rem] whitespace-nowrap"
                style={{ left: `${share * 100}%` }}
              >
                {tick.label}
              </span>
            );
          })}
          <span className="absolute right-0 translate-x-1/2 text-[0.8125rem]">now</span>
        </div>
        <span className="text-right max-md:hidden">latest</span>
        <span className="text-right max-md:col-start-2">uptime, {rangeLabel}</span>
      </div>
      <LineRows rows={rows} before={0} {...shared} />
      {later.map(({ query, before, count }) => (
        <LateLines key={before} {...{ query, before, count, readAt, ...shared }} onRows={keep} />
      ))}
      {read && hair !== null && (
        <div className="pointer-events-none absolute inset-x-4 z-10 max-md:hidden" style={{ top: height }}>
          <div className={LINE_GRID}>
            <span />
            <div className="relative">
              <div
                className="bg-button text-button-ink absolute -translate-x-1/2 rounded-lg px-3 py-1.5 text-[0.8125rem] whitespace-nowrap shadow"
                style={{ left: `${Math.min(88, Math.max(12, hair * 100))}%` }}
              >
                <p className="font-semibold">
                  {moment} · {read.title}
                </p>
                {read.lines.map((line) => (
                  <p key={line}>{line}</p>
                ))}
              </div>
            </div>
          </div>
        </div>
      )}
    </div>
  );
}
