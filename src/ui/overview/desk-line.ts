import type { DeskLine } from '@/views/overview/lines';

/** A line as it is asked for. */
export type WireLine = Omit<DeskLine, 'line'> & { line: { kind: string; from: string; until: string }[] };

export const deskLineOf = ({ line, ...rest }: WireLine): DeskLine => ({
  ...rest,
  line: line.map(({ kind, from, until }) => ({
    kind: kind as DeskLine['line'][number]['kind'],
    from: Date.parse(from),
    to: Date.parse(until),
  })),
});
