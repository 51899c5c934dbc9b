'use client';

import { useRouter } from 'next/navigation';
import {
  createContext,
  useCallback,
  useContext,
  useEffect,
  useMemo,
  useRef,
  useState,
  useTransition,
  type ReactNode,
} from 'react';
import { callApi } from '@/ui/basic/call-api';
import { follow } from '@/ui/live/live-source';
import { later, Pacer } from '@/ui/live/refresh-pace';
import type { OverviewRow } from '@/views/overview/lines';
import type { OverviewHead } from '@/views/overview/overview';
import { deskLineOf, headOf, type WireHead, type WireLine } from './desk-line';
import { ChangesOfDesk } from './changes-of-desk';

interface DeskNow {
  head: OverviewHead;
  /** A row as it was read last. */
  newest: (row: OverviewRow) => OverviewRow;
  /** Says which rows there are: of others nothing is asked for. */
  show: (before: number, rows: readonly OverviewRow[]) => void;
}

const Desk = createContext<DeskNow | null>(null);

/** What has come of the desk since the page was read. */
export function useDesk(): DeskNow {
  const desk = useContext(Desk);
  if (!desk) throw new Error('Expected to be within the live desk.');
  return desk;
}

interface LiveDeskProps {
  head: OverviewHead;
  range: string;
  /** Over how long lines go. */
  spanMs: number;
  /** Whether rows stay where they are when a state changes: not where a filter or an order goes by it. */
  inPlace: boolean;
  children: ReactNode;
}

/** A line moves on by itself; when it would by a pixel, all is read anew. */
const PIXELS = 800;
const LONGEST_BETWEEN_MS = 10 * 60_000;

/**
 * Keeps an open desk up to date by what has changed: what leads it, and those of the rows that are there. The page
 * itself is read anew where watches were made, moved or changed, and from time to time.
 */
export function LiveDesk({ head, range, spanMs, inPlace, children }: LiveDeskProps) {
  const router = useRouter();
  const readAt = head.now;
  const [newer, setNewer] = useState<OverviewHead | null>(null);
  const [rows, setRows] = useState<ReadonlyMap<number, { at: number; row: OverviewRow }>>(new Map());
  const [drawing, startDrawing] = useTransition();
  const [changes] = useState(() => new ChangesOfDesk());
  const pacer = useRef<Pacer | null>(null);
  const read = useRef(readAt);
  useEffect(() => {
    read.current = readAt;
    changes.readAnew();
  }, [changes, readAt]);
  useEffect(() => {
    if (!drawing) pacer.current?.drawn();
  }, [drawing]);
  useEffect(() => {
    const readSome = async (ids: readonly number[]) => {
      const asked = ids.length > 0 ? `/lines?range=${range}&limit=${ids.length}&ids=${ids.join(',')}` : null;
      const [leads, lines] = await Promise.all([
        callApi<WireHead>('GET', '/overview'),
        asked === null ? null : callApi<WireLine[]>('GET', asked),
      ]);
      if (!leads.ok || (lines && !lines.ok)) return changes.failed();
      const at = Date.parse(leads.value.readAt);
      setNewer(headOf(leads.value));
      if (lines)
        setRows((known) => {
          // What the page itself has read since then takes its place.
          const kept = new Map([...known].filter(([, one]) => one.at > read.current));
          for (const line of lines.value) kept.set(line.id, { at, row: deskLineOf(line) });
          return kept;
        });
    };
    const draw = () => {
      const what = changes.take(Date.now(), wholeAfterMs);
      if (what === 'whole') return startDrawing(() => router.refresh());
      void readSome(what).finally(() => {
        own.drawn();
        if (changes.any) own.want();
      });
    };
    const own = (pacer.current = new Pacer({ now: () => Date.now(), later, draw }));
    const wholeAfterMs = Math.min(LONGEST_BETWEEN_MS, spanMs / PIXELS);
    const wholeWanted = () => {
      changes.wantWhole();
      own.want();
    };
    const hears = {
      hello: (data: unknown) => {
        if ((data as { changedAt: number }).changedAt >= read.current) wholeWanted();
      },
      changed: wholeWanted,
      deliveries: () => {
        changes.wantHead();
        own.want();
      },
      watches: (data: unknown) => {
        if (inPlace) changes.note((data as { id: number }[]).map(({ id }) => id));
        else changes.wantWhole();
        own.want();
      },
    };
    const leave = follow('/live', hears, read.current);
    return () => {
      leave();
      own.close();
    };
  }, [router, changes, range, inPlace, spanMs]);
  const show = useCallback(
    (before: number, some: readonly OverviewRow[]) =>
      changes.show(
        before,
        some.map(({ id }) => id),
      ),
    [changes],
  );
  const desk = useMemo((): DeskNow => {
    const newest = (row: OverviewRow) => {
      const known = rows.get(row.id);
      return known && known.at > readAt ? known.row : row;
    };
    return { head: newer && newer.now > readAt ? newer : head, newest, show };
  }, [head, newer, rows, readAt, show]);
  return <Desk value={desk}>{children}</Desk>;
}
