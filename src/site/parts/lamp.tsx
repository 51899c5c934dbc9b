import type { PublicKind } from '@/core/pages/public-line';

const GLASS = 'M5.2 6C3.8 8.2 3.8 10.2 5.2 12.4h5.6C12.2 10.2 12.2 8.2 10.8 6z';
const FLAME = 'M8 6.9c1 1.3 1.7 2 1.7 3.1a1.7 1.7 0 0 1-3.4 0c0-1.1.7-1.8 1.7-3.1z';

/** What stands within the lantern: its shape tells a state without colour. */
const INSIDE: Record<PublicKind, React.ReactNode> = {
  running: (
    <>
      <path d={GLASS} className="faint" />
      <path d={FLAME} className="full" />
    </>
  ),
  slow: (
    <>
      <path d={GLASS} />
      <circle cx="8" cy="10.6" r="1.1" className="full" />
    </>
  ),
  partly: (
    <>
      <path d={GLASS} />
      <path d="M8 6h2.8C12.2 8.2 12.2 10.2 10.8 12.4H8z" className="full" />
    </>
  ),
  out: (
    <>
      <path d={GLASS} className="full" />
      <path d="m6.5 7.6 3 3.2m0-3.2-3 3.2" className="cross" />
    </>
  ),
  maintenance: <path d="M6.6 7.2 5.9 11M9.4 7.2l.7 3.8" />,
  unknown: <path d={GLASS} strokeDasharray="1.6 1.2" />,
};

const KINDS = Object.keys(INSIDE) as PublicKind[];

/** The lanterns of a sheet, drawn once; each service points at one. */
export function Lamps() {
  return (
    <svg width="0" height="0" className="lamps" aria-hidden="true">
      {KINDS.map((kind) => (
        <symbol key={kind} id={`lamp-${kind}`} viewBox="0 0 16 16">
          <circle cx="8" cy="1.7" r="1.15" />
          {kind === 'maintenance' ? (
            <path
              d="M8 2.9C5 4.6 4 8.5 3 14.4c1-.7 1.7-.7 2.5 0 .8-.7 1.7-.7 2.5 0 .8-.7 1.7-.7 2.5 0 .8-.7 1.5-.7 2.5 0-1-5.9-2-9.8-5-11.5z"
              className="faint"
            />
          ) : (
            <path d="M3.2 6.2 8 2.9l4.8 3.3z" className="full" />
          )}
          {INSIDE[kind]}
          {kind !== 'maintenance' && <rect x="4" y="12.7" width="8" height="1.9" rx=".7" className="full" />}
        </symbol>
      ))}
    </svg>
  );
}

export function Lamp({ kind }: { kind: PublicKind }) {
  return (
    <svg className={`lamp lamp-${kind}`} width="18" height="18" aria-hidden="true">
      <use href={`#lamp-${kind}`} />
    </svg>
  );
}
