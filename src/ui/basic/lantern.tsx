import type { ReactNode } from 'react';
import type { State } from '@/core/lifecycle/state';

/** Six shapes for what a watch is in; each differs without its colour. */
type Shape = 'lit' | 'dimmed' | 'shuttered' | 'out' | 'wrapped' | 'unlit';

const SHAPE_OF: Record<State, Shape> = {
  up: 'lit',
  slow: 'dimmed',
  doubtful: 'shuttered',
  overdue: 'shuttered',
  down: 'out',
  maintenance: 'wrapped',
  waiting: 'unlit',
  paused: 'unlit',
};

const COLOUR_OF: Record<Shape, string> = {
  lit: 'var(--fine)',
  dimmed: 'var(--late)',
  shuttered: 'var(--late)',
  out: 'var(--down)',
  wrapped: 'var(--rest)',
  unlit: 'var(--idle)',
};

const GLASS = 'M5.2 6C3.8 8.2 3.8 10.2 5.2 12.4h5.6C12.2 10.2 12.2 8.2 10.8 6z';

const INSIDE: Record<Shape, ReactNode> = {
  lit: (
    <>
      <path d={GLASS} fill="currentColor" fillOpacity=".16" stroke="currentColor" />
      <path d="M8 6.9c1 1.3 1.7 2 1.7 3.1a1.7 1.7 0 0 1-3.4 0c0-1.1.7-1.8 1.7-3.1z" fill="currentColor" />
    </>
  ),
  dimmed: (
    <>
      <path d={GLASS} fill="none" stroke="currentColor" />
      <circle cx="8" cy="10.6" r="1.1" fill="currentColor" />
    </>
  ),
  shuttered: (
    <>
      <path d={GLASS} fill="none" stroke="currentColor" />
      <path d="M4.4 8.1h7.2M4.4 10.3h7.2" stroke="currentColor" strokeWidth="1.3" />
    </>
  ),
  out: (
    <>
      <path d={GLASS} fill="currentColor" stroke="currentColor" />
      <path d="m6.5 7.6 3 3.2m0-3.2-3 3.2" stroke="var(--card)" strokeWidth="1.3" strokeLinecap="round" />
    </>
  ),
  unlit: <path d={GLASS} fill="none" stroke="currentColor" strokeDasharray="1.6 1.2" />,
  wrapped: null,
};

/** The lantern that tells a watch's state by its shape. Read out only when it has a title. */
export function Lantern({ state, size = 16, title }: { state: State; size?: number; title?: string }) {
  const shape = SHAPE_OF[state];
  const label = title ? { role: 'img', 'aria-label': title } : { 'aria-hidden': true };
  return (
    <svg
      width={size}
      height={size}
      viewBox="0 0 16 16"
      strokeWidth="1.1"
      className="shrink-0"
      style={{ color: COLOUR_OF[shape] }}
      {...label}
    >
      <circle cx="8" cy="1.7" r="1.15" fill="none" stroke="currentColor" strokeWidth=".9" />
      {shape === 'wrapped' ? (
        <>
          <path
            d="M8 2.9C5 4.6 4 8.5 3 14.4c1-.7 1.7-.7 2.5 0 .8-.7 1.7-.7 2.5 0 .8-.7 1.7-.7 2.5 0 .8-.7 1.5-.7 2.5 0-1-5.9-2-9.8-5-11.5z"
            fill="currentColor"
            fillOpacity=".2"
            stroke="currentColor"
            strokeLinejoin="round"
          />
          <path d="M6.6 7.2 5.9 11M9.4 7.2l.7 3.8" stroke="currentColor" strokeLinecap="round" />
        </>
      ) : (
        <>
          <path d="M3.2 6.2 8 2.9l4.8 3.3z" fill="currentColor" />
          {INSIDE[shape]}
          <rect x="4" y="12.7" width="8" height="1.9" rx=".7" fill="currentColor" />
        </>
      )}
    </svg>
  );
}

/** The product's own mark: the lit lantern in ink with a lamplight flame. */
export function LanternMark({ size = 26 }: { size?: number }) {
  return (
    <svg width={size} height={size} viewBox="0 0 16 16" strokeWidth="1" aria-hidden className="shrink-0">
      <circle cx="8" cy="1.7" r="1.15" fill="none" stroke="var(--ink)" strokeWidth=".9" />
      <path d="M3.2 6.2 8 2.9l4.8 3.3z" fill="var(--ink)" />
      <path d={GLASS} fill="none" stroke="var(--ink)" />
      <path d="M8 6.9c1 1.3 1.7 2 1.7 3.1a1.7 1.7 0 0 1-3.4 0c0-1.1.7-1.8 1.7-3.1z" fill="var(--lamp)" />
      <rect x="4" y="12.7" width="8" height="1.9" rx=".7" fill="var(--ink)" />
    </svg>
  );
}
