'use client';

import { createContext, useContext, useSyncExternalStore, type ReactNode } from 'react';
import { TO_THE_SECOND } from '@/core/time/clock-text';

const ServerZone = createContext('UTC');

/** The zone pages are first drawn in, before the reader's own is known. */
export function ZoneProvider({ zone, children }: { zone: string; children: ReactNode }) {
  return <ServerZone.Provider value={zone}>{children}</ServerZone.Provider>;
}

const never = () => () => undefined;

/** The reader's own time zone; while the page is drawn on the server, the instance's. */
export function useZone(): string {
  const server = useContext(ServerZone);
  return useSyncExternalStore(
    never,
    () => Intl.DateTimeFormat().resolvedOptions().timeZone || server,
    () => server,
  );
}

const FORMATS = {
  time: { hour: '2-digit', minute: '2-digit', hourCycle: 'h23' },
  seconds: { hour: '2-digit', minute: '2-digit', second: '2-digit', hourCycle: 'h23' },
  day: { weekday: 'short', day: 'numeric', month: 'short' },
  moment: { ...TO_THE_SECOND, second: undefined },
  exact: TO_THE_SECOND,
} satisfies Record<string, Intl.DateTimeFormatOptions>;

export type TimeFormat = keyof typeof FORMATS;

export function formatIn(at: number, zone: string, format: TimeFormat): string {
  return new Intl.DateTimeFormat('en-GB', { ...FORMATS[format], timeZone: zone })
    .format(at)
    .replaceAll(',', '');
}

/** A moment in the reader's own zone. */
export function Time({ at, as = 'moment' }: { at: number; as?: TimeFormat }) {
  const zone = useZone();
  return (
    <time dateTime={new Date(at).toISOString()} title={`${formatIn(at, zone, 'moment')} (${zone})`}>
      {formatIn(at, zone, as)}
    </time>
  );
}
