'use client';

import { useEffect, useMemo, type ComponentProps } from 'react';
import type { DeskLine, OverviewRow } from '@/views/overview/lines';
import { deskLineOf, type WireLine } from './desk-line';
import { useLateRows } from './late-rows';
import { LineRows } from './line-rows';
import { useDesk } from './live-desk';

const ROW_PX = 26;

interface LateLinesProps extends Omit<ComponentProps<typeof LineRows>, 'rows'> {
  query: string;
  count: number;
  readAt: number;
  onRows: (before: number, rows: readonly OverviewRow[]) => void;
}

const NONE: readonly OverviewRow[] = [];

/** Lines that are there while they are near what is seen; else their place. */
export function LateLines({ query, count, readAt, onRows, ...rest }: LateLinesProps) {
  const { newest } = useDesk();
  const {
    place,
    rows: read,
    problem,
    height,
  } = useLateRows<HTMLDivElement, WireLine, DeskLine>(`/lines?${query}`, readAt, deskLineOf);
  const rows = useMemo(() => read?.map(newest) ?? null, [read, newest]);
  const { before } = rest;
  useEffect(() => onRows(before, rows ?? NONE), [before, rows, onRows]);
  return (
    <div
      ref={place}
      aria-busy={rows === null}
      style={{ minHeight: rows === null ? (height ?? count * ROW_PX) : undefined }}
    >
      {rows && <LineRows rows={rows} {...rest} />}
      {rows === null && problem !== null && <p role="alert">{problem}</p>}
    </div>
  );
}
