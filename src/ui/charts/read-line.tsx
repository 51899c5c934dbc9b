'use client';

import type { Stretch } from '@/core/history/availability';
import { formatDuration } from '@/core/time/duration';
import { STRETCH_WORDS } from '@/core/history/line-text';
import { formatIn, useZone } from '@/ui/form/zone';
import { CalmLine } from './calm-line';
import { ReadOut } from './read-out';

interface ReadLineProps {
  line: readonly Stretch[];
  range: { from: number; to: number };
  /** What the whole line says, for those who do not see it. */
  label: string;
}

/** A history line that is read out, stretch by stretch, by pointer and by the arrow keys. */
export function ReadLine({ line, range, label }: ReadLineProps) {
  const zone = useZone();
  const share = (at: number) => (at - range.from) / (range.to - range.from);
  const stops = line.map(({ from, to }) => ({ from: share(from), to: share(to) }));
  const say = (index: number) => {
    const { from, to, kind } = line[index]!;
    const end = to >= range.to ? 'now' : formatIn(to, zone, 'moment');
    return `${STRETCH_WORDS[kind]}, ${formatDuration(to - from)}: ${formatIn(from, zone, 'moment')} to ${end}`;
  };
  return (
    <ReadOut label={label} stops={stops} say={say}>
      <CalmLine line={line} range={range} />
    </ReadOut>
  );
}
