import type { Stretch } from './availability';
import { formatDuration } from '@/core/time/duration';
import type { StretchKind } from '@/core/lifecycle/state';

export const STRETCH_WORDS: Record<StretchKind, string> = {
  up: 'up',
  slow: 'slow',
  doubtful: 'doubtful',
  overdue: 'overdue',
  down: 'down',
  maintenance: 'in maintenance',
  paused: 'paused',
  waiting: 'waiting',
  unobserved: 'not observed',
};

const TOLD: StretchKind[] = [
  'down',
  'overdue',
  'doubtful',
  'slow',
  'maintenance',
  'paused',
  'unobserved',
  'waiting',
];

/** A line without overlaps in words, for those who cannot see it: "down 12 min, slow 1 h 20 min; up otherwise". */
export function lineInWords(line: readonly Stretch[]): string {
  const totals = new Map<StretchKind, number>();
  for (const { from, to, kind } of line) totals.set(kind, (totals.get(kind) ?? 0) + to - from);
  const parts = TOLD.flatMap((kind) => {
    const total = totals.get(kind) ?? 0;
    return total > 0 ? [`${STRETCH_WORDS[kind]} ${formatDuration(total)}`] : [];
  });
  const up = line.some((stretch) => stretch.kind === 'up');
  if (parts.length === 0) return up ? 'up all the time' : 'no history yet';
  return `${parts.join(', ')}${up ? '; up otherwise' : ''}`;
}
