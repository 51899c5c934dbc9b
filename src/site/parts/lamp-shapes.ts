import type { PublicKind } from '@/core/pages/public-line';

const GLASS = 'M5.2 6C3.8 8.2 3.8 10.2 5.2 12.4h5.6C12.2 10.2 12.2 8.2 10.8 6z';
const ROOF = 'M3.2 6.2 8 2.9l4.8 3.3z';
const FOOT = 'M4.7 12.7h6.6a.7.7 0 0 1 .7.7v.5a.7.7 0 0 1-.7.7H4.7a.7.7 0 0 1-.7-.7v-.5a.7.7 0 0 1 .7-.7z';

/** The lantern as paths on 16 by 16, for pictures that stand alone: what is filled, what is drawn, and the glass. */
export function lampPaths(kind: PublicKind): { full: string; thin: string; faint: string; cross: string } {
  const body = `${ROOF}${FOOT}`;
  switch (kind) {
    case 'running':
      return {
        full: `${body}M8 6.9c1 1.3 1.7 2 1.7 3.1a1.7 1.7 0 0 1-3.4 0c0-1.1.7-1.8 1.7-3.1z`,
        thin: GLASS,
        faint: GLASS,
        cross: '',
      };
    case 'slow':
      return { full: `${body}M8 9.5a1.1 1.1 0 1 1-.01 0z`, thin: GLASS, faint: '', cross: '' };
    case 'partly':
      return { full: `${body}M8 6h2.8C12.2 8.2 12.2 10.2 10.8 12.4H8z`, thin: GLASS, faint: '', cross: '' };
    case 'out':
      return { full: body + GLASS, thin: '', faint: '', cross: 'm6.5 7.6 3 3.2m0-3.2-3 3.2' };
    case 'maintenance':
      return {
        full: '',
        thin: 'M8 2.9C5 4.6 4 8.5 3 14.4c1-.7 1.7-.7 2.5 0 .8-.7 1.7-.7 2.5 0 .8-.7 1.7-.7 2.5 0 .8-.7 1.5-.7 2.5 0-1-5.9-2-9.8-5-11.5z',
        faint: '',
        cross: '',
      };
    case 'unknown':
      return { full: body, thin: GLASS, faint: '', cross: '' };
  }
}
