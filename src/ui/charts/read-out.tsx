'use client';

import { useState, type KeyboardEvent, type PointerEvent, type ReactNode } from 'react';

/** One thing a drawing can be read out at: where it stands, as shares of the drawing's width. */
export interface ReadStop {
  from: number;
  to: number;
}

interface ReadOutProps {
  /** What is being read, for those who do not see it. */
  label: string;
  stops: readonly ReadStop[];
  /** The words of one stop; only those that are read are made. */
  say: (index: number) => string;
  children: ReactNode;
}

/** The stop under a place, or the nearest to it. */
export function nearestStop(stops: readonly ReadStop[], share: number): number {
  let nearest = 0;
  let least = Infinity;
  for (const [i, { from, to }] of stops.entries()) {
    const away = share < from ? from - share : share > to ? share - to : 0;
    if (away < least) [nearest, least] = [i, away];
  }
  return nearest;
}

/** Where a key leads from a stop; null where it is no key of ours. From nowhere, it begins at the newest. */
export function stopByKey(key: string, now: number | null, count: number): number | null {
  const last = count - 1;
  if (key === 'Home') return 0;
  if (key === 'End') return last;
  if (key === 'ArrowLeft' || key === 'ArrowDown') return now === null ? last : Math.max(0, now - 1);
  if (key === 'ArrowRight' || key === 'ArrowUp') return now === null ? last : Math.min(last, now + 1);
  return null;
}

/** A drawing that is read out where the pointer is, and by the arrow keys. */
export function ReadOut({ label, stops, say, children }: ReadOutProps) {
  const [index, setIndex] = useState<number | null>(null);
  if (stops.length === 0) return <>{children}</>;
  const last = stops.length - 1;
  const here = index === null ? last : Math.min(index, last);
  const stop = index === null ? undefined : stops[here];
  const text = say(here);
  const middle = stop ? (Math.max(0, stop.from) + Math.min(1, stop.to)) / 2 : 0;
  const follow = (event: PointerEvent<HTMLElement>) => {
    const box = event.currentTarget.getBoundingClientRect();
    if (box.width > 0) setIndex(nearestStop(stops, (event.clientX - box.left) / box.width));
  };
  const onKey = (event: KeyboardEvent) => {
    if (event.key === 'Escape') return setIndex(null);
    const next = stopByKey(event.key, index, stops.length);
    if (next === null) return;
    event.preventDefault();
    setIndex(next);
  };
  return (
    <div
      role="slider"
      tabIndex={0}
      aria-label={`${label} Read it out with the arrow keys.`}
      aria-valuemin={0}
      aria-valuemax={last}
      aria-valuenow={here}
      aria-valuetext={text}
      onPointerMove={follow}
      onPointerDown={follow}
      onPointerLeave={() => setIndex(null)}
      onBlur={() => setIndex(null)}
      onKeyDown={onKey}
      className="relative"
    >
      {children}
      {stop && (
        <>
          <span
            aria-hidden
            className="border-ink pointer-events-none absolute -top-1 -bottom-1 border-l border-dashed"
            style={{ left: `${middle * 100}%` }}
          />
          <span
            aria-hidden
            data-read-out
            className="bg-button text-button-ink pointer-events-none absolute bottom-full z-10 mb-1.5 w-max max-w-[min(22rem,100%)] rounded-lg px-2.5 py-1 text-[0.8125rem] shadow"
            style={
              middle < 0.5
                ? { left: `${Math.max(0, middle * 100 - 12)}%` }
                : { right: `${Math.max(0, 88 - middle * 100)}%` }
            }
          >
            {text}
          </span>
        </>
      )}
    </div>
  );
}
