import { routeOf } from './route';
import type { Thread } from './telling';
import type { TellingDraft } from './telling-draft';

export function take(
  draft: TellingDraft,
  { thread: key, by, until }: { thread: string; by: string; until: number | null },
  now: number,
): void {
  const thread = draft.thread(key);
  if (!thread?.open) return;
  thread.taken = { by, at: now, until };
  tellHeard(draft, thread, { kind: 'taken', by, until }, 'taken');
}

/** Nobody has it any more: steps that were due meanwhile follow at once, reminders from now on. */
export function giveBack(draft: TellingDraft, key: string, by: string | null, now: number): void {
  const thread = draft.thread(key);
  if (!thread?.taken) return;
  thread.taken = null;
  for (const leg of thread.legs) {
    const route = routeOf(draft.setup.routes, leg.routeId, thread.watch);
    const reminds = leg.step >= (route?.steps.length ?? 0);
    if (leg.dueAt !== null && leg.dueAt < now) leg.dueAt = reminds ? now + (route?.againMs ?? 0) : now;
  }
  tellHeard(draft, thread, { kind: 'given-back', by }, 'given-back');
}

function tellHeard(
  draft: TellingDraft,
  thread: Thread,
  event: { kind: 'taken'; by: string; until: number | null } | { kind: 'given-back'; by: string | null },
  rule: 'taken' | 'given-back',
): void {
  for (const [channelId, { how, routeId }] of Object.entries(thread.heard)) {
    if (how !== 'said') continue;
    draft.say({ channelId: Number(channelId), thread, event, routeId, rule });
  }
}
