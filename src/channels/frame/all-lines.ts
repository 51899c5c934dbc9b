import type { Outgoing } from './kind';

export const TAKE_WORDS = 'I have it';

/** The lines of a message, with the address to take it at; for rooms that know no buttons. */
export function allLines({ lines, take }: Outgoing): string[] {
  return take === null ? lines : [...lines, `${TAKE_WORDS}: ${take}`];
}
