'use client';

import { memo } from 'react';
import type { timeTicks } from '@/ui/charts/time-ticks';
import { CalmLine } from '@/ui/charts/calm-line';
import { WatchLink } from '@/ui/watch/watch-link';
import type { OverviewRow } from '@/views/overview/lines';

/** Columns: name and kind, the line, latest, uptime. */
export const LINE_GRID =
  'grid grid-cols-[minmax(0,1fr)_4.6rem] items-center gap-x-3 md:grid-cols-[17rem_minmax(0,1fr)_6.4rem_7.5rem]';

interface LineRowsProps {
  rows: readonly OverviewRow[];
  /** How many stand before them, and how many there are in all. */
  before: number;
  shown: number;
  /** Under what they stand; not said where the worst come first. */
  bySection: boolean;
  range: { from: number; to: number };
  rangeLabel: string;
  ticks: ReturnType<typeof timeTicks>;
}

function inSections(rows: readonly OverviewRow[], bySection: boolean) {
  const sections: { title: string; from: number; rows: OverviewRow[] }[] = [];
  for (const [i, row] of rows.entries()) {
    const title = bySection ? row.section : '';
    const last = sections.at(-1);
    if (last?.title === title) last.rows.push(row);
    else sections.push({ title, from: i, rows: [row] });
  }
  return sections;
}

/** Rows of the desk; where the hairline stands is known to the sheet around them, so that they need not be drawn anew. */
export const LineRows = memo(function LineRows(props: LineRowsProps) {
  const { rows, before, shown, bySection, range, rangeLabel, ticks } = props;
  const span = range.to - range.from;
  return inSections(rows, bySection).map((section) => (
    <section key={section.title} aria-label={section.title || 'Watches'}>
      {section.title && (
        <h3 className="text-muted mt-3 mb-0.5 font-sans text-[0.8438rem] font-semibold">{section.title}</h3>
      )}
      <ul>
        {section.rows.map((row, i) => (
          <li
            key={row.id}
            aria-posinset={before + section.from + i + 1}
            aria-setsize={shown}
            className={`${LINE_GRID} min-h-[26px]`}
          >
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
              <span
                className="border-ink absolute -top-1 -bottom-1 border-l border-dashed group-data-[hair=off]/lines:hidden max-md:hidden"
                style={{ left: 'var(--hair)' }}
              />
            </div>
            <span className="figures text-right text-[0.8438rem] max-md:hidden">{row.latest}</span>
            <span className={`figures text-right text-[0.8438rem] ${row.whole ? '' : 'text-down-text'}`}>
              {row.uptime}
              {row.stands !== '' && (
                <span className="text-muted block text-[0.75rem] leading-tight text-balance">
                  {row.stands}
                </span>
              )}
            </span>
          </li>
        ))}
      </ul>
    </section>
  ));
});
