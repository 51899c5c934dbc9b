import type { PaceLimit } from '@/core/messages/pace';

/** What chat rooms bear: whoever says more is told to slow down, and then waits longer. */
export const ROOM_PACE: PaceLimit = { burst: 5, everyMs: 1_000 };
