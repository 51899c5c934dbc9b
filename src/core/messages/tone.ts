import type { SaidEvent } from './said';

/** How bad it is, for channels that show it by a colour or a sign. */
export type Tone = 'bad' | 'hand' | 'fine' | 'note';

/** By what is said; for what is about several, by whether all of it is over. */
export function toneOf(event: SaidEvent | null): Tone {
  switch (event?.kind) {
    case 'down':
    case 'still-down':
    case 'also':
      return 'bad';
    case 'several':
      return event.items.every(({ over }) => over !== null) ? 'fine' : 'bad';
    case 'warned':
    case 'slow':
    case 'unsteady':
    case 'given-back':
      return 'hand';
    case 'recovered':
    case 'several-over':
    case 'steady':
      return 'fine';
    case 'line':
    case 'own':
      return event.ended === null ? 'bad' : 'fine';
    default:
      return 'note';
  }
}

/** The inks of the desk by day; a card stands on a ground nobody knows. */
const COLOURS: Record<Tone, string> = { bad: '#b03428', hand: '#b47a1c', fine: '#28696d', note: '#6f7680' };

export function colourOf(tone: Tone): string {
  return COLOURS[tone];
}

/** A sign that stands before a title where there is no colour; it differs by shape. */
const SIGNS: Record<Tone, string> = { bad: '▲', hand: '◆', fine: '●', note: '○' };

export function signOf(tone: Tone): string {
  return SIGNS[tone];
}
