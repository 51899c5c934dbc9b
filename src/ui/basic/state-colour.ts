import type { StretchKind } from '@/core/lifecycle/state';

/** Text colour for a state's words. */
export function stateTextClass(kind: StretchKind): string {
  switch (kind) {
    case 'down':
      return 'text-down-text';
    case 'overdue':
    case 'doubtful':
    case 'slow':
      return 'text-late-text';
    case 'maintenance':
      return 'text-rest';
    case 'up':
      return 'text-fine';
    default:
      return 'text-muted';
  }
}
