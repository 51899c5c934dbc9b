'use client';

import { useRef, useState, type KeyboardEvent, type PointerEvent } from 'react';
import { stretchAt } from '@/core/history/calm-line';
import { STRETCH_WORDS } from '@/core/history/line-text';
import { SEVERITY } from '@/core/lifecycle/state';
import { timeTicks } from './time-ticks';
import type { OverviewRow } from '@/views/overview/overview';
import { formatIn, useZone } from '@/ui/form/zone';
import { CalmLine, CalmLinePatterns } from './calm-line';
import { WatchLink } from '@/ui/watch/watch-link';

interface SideBySideProps {
  sections: { title: string; rows: OverviewRow[] }[];
  range: { from: number; to: number };
  rangeLabel: string;
}

const MOST_NAMED = 5;
const KEY_STEP = 0.01;
/** Columns: name and kind, the line, latest, uptime. */
const GRID =
  'grid grid-cols-[minmax(0,1fr)_4.6rem] items-center gap-x-3 md:grid-cols-[17rem_minmax(0,1fr)_6.4rem_7.5rem]';

function readOut(rows: readonly OverviewRow[], at: number): { title: string; lines: string[] } {
  const off = rows.flatMap((row) => {
    const kind = stretchAt(row.line, at)?.kind;
    return kind && SEVERITY[kind] >= 3 ? [{ name: row.name, kind }] : [];
  });
  if (off.length === 0) return { title: 'nothing was wrong', lines: [] };
  const lines = off.slice(0, MOST_NAMED).map((o) => `${o.name}: ${STRETCH_WORDS[o.kind]}`);
  if (off.length > MOST_NAMED) lines.push(`and ${off.length - MOST_NAMED} more`);
  return { title: off.length === 1 ? 'one was not well' : `${off.length} were not well together`, lines };
}

/** All lines on one clock, with a hairline that reads every watch out at one moment. */
export function SideBySide({ sections, range, rangeLabel }: SideBySideProps) {
  const zone = useZone();
  const track = useRef<HTMLDivElement>(null);
  const [hair, setHair] = useState<number | null>(null);
  /** Where the read-out stands, in pixels from the top of the panel. */
  const [height, setHeight] = useState(40);
  const rows = sections.flatMap((section) => section.rows);
  const ticks = timeTicks(range, zone, 9);
  const span = range.to - range.from;
  const at = hair === null ? null : range.from + hair * span;
  const read = at === null ? null : readOut(rows, at);
  const moment = at === null ? '' : formatIn(at, zone, 'moment');

  const follow = (event: PointerEvent<HTMLElement>) => {
    const box = track.current?.getBoundingClientRect();
    if (!box || box.width === 0) return;
    const share = (event.clientX - box.left) / box.width;
    setHeight(event.clientY - event.currentTarget.getBoundingClientRect().top + 18);
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
    <div className="sheet relative px-4 py-3" onPointerMove={follow} onPointerLeave={() => setHair(null)}>
      <CalmLinePatterns />
      <div className={`${GRID} text-muted text-[0.8125rem]`}>
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
                className="figures absolute -translate-x-1/2 text-[0.7812rem]"
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
      {sections.map((section) => (
        <section key={section.title} aria-label={section.title || 'Watches'}>
          {section.title && (
            <h3 className="text-muted mt-3 mb-0.5 font-sans text-[0.8438rem] font-semibold">
              {section.title}
            </h3>
          )}
          <ul>
            {section.rows.map((row) => (
              <li key={row.id} className={`${GRID} min-h-[26px]`}>
                <WatchLink watch={row} className="min-w-0 px-1">
                  <span className="text-muted ml-auto text-[0.7812rem] whitespace-nowrap max-sm:hidden">
                    {row.kind}
                  </span>
                </WatchLink>
                <div
                  className="relative max-md:order-last max-md:col-span-2"
                  role="img"
                  aria-label={`${row.name}, last ${rangeLabel}: ${row.words}`}
                >
                  {ticks.map((tick) => (
                    <span
                      key={tick.at}
                      className="bg-rule absolute -top-1 -bottom-1 w-px max-md:hidden"
                      style={{ left: `${((tick.at - range.from) / span) * 100}%` }}
                    />
                  ))}
                  <CalmLine line={row.line} range={range} />
                  {hair !== null && (
                    <span
                      className="border-ink absolute -top-1 -bottom-1 border-l border-dashed max-md:hidden"
                      style={{ left: `${hair * 100}%` }}
                    />
                  )}
                </div>
                <span className="figures text-right text-[0.8438rem] max-md:hidden">{row.latest}</span>
                <span className={`figures text-right text-[0.8438rem] ${row.whole ? '' : 'text-down-text'}`}>
                  {row.uptime}
                  {row.stands !== '' && (
                    <span className="text-muted block text-[0.75rem] leading-tight">{row.stands}</span>
                  )}
                </span>
              </li>
            ))}
          </ul>
        </section>
      ))}
      {read && hair !== null && (
        <div className="pointer-events-none absolute inset-x-4 z-10 max-md:hidden" style={{ top: height }}>
          <div className={GRID}>
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
