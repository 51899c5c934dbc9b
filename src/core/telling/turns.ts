import { begin } from './openings';
import type { Thread } from './telling';
import type { TellingDraft } from './telling-draft';

/** Counts a turn; what turns too often is unsteady from then on. */
export function turns(draft: TellingDraft, thread: Thread, now: number): void {
  const { unsteadyMs, unsteadyTurns } = draft.setup.folding;
  thread.turns = [...thread.turns.filter((at) => at > now - unsteadyMs), now].slice(-unsteadyTurns);
  if (thread.unsteady || thread.turns.length < unsteadyTurns) return;
  thread.unsteady = true;
  const event = { kind: 'unsteady' as const, turns: thread.turns.length, withinMs: now - thread.turns[0]! };
  for (const [channelId, routeId] of Object.entries(thread.listening)) {
    draft.say({ channelId: Number(channelId), thread, event, routeId, rule: 'unsteady' });
  }
}

/** It has not turned for long enough: what it came to is told, and it counts from anew. */
export function standsStill(draft: TellingDraft, key: string, at: number): void {
  const thread = draft.thread(key)!;
  const { unsteady, listening } = thread;
  const since = thread.turns.at(-1)!;
  thread.turns = [];
  thread.unsteady = false;
  if (unsteady && thread.open) {
    begin(draft, thread, at);
  } else if (unsteady) {
    for (const [channelId, routeId] of Object.entries(listening)) {
      const event = { kind: 'steady' as const, since };
      draft.say({ channelId: Number(channelId), thread, event, routeId, rule: 'steady' });
    }
  }
  if (!thread.open) draft.dropThread(key);
}
