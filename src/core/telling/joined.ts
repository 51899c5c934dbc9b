import type { Happening } from './telling';
import type { TellingDraft } from './telling-draft';

/** Something follows from a trouble that is told: it is added to what is said about that. */
export function join(draft: TellingDraft, { thread: key, watch }: Happening, now: number): void {
  const thread = draft.thread(key);
  if (!thread?.open || !watch || thread.joined.some(({ watchId }) => watchId === watch.id)) return;
  thread.joined = [...thread.joined, { watchId: watch.id, name: watch.name }];
  thread.joinedAt ??= now + draft.setup.folding.joinMs;
}

export function tellJoined(draft: TellingDraft, key: string): void {
  const thread = draft.thread(key)!;
  const event = { kind: 'also' as const, items: thread.joined };
  thread.joinedAt = null;
  for (const [channelId, { how, routeId }] of Object.entries(thread.heard)) {
    if (how !== 'said') continue;
    draft.say({ channelId: Number(channelId), thread, event, routeId, rule: 'joined' });
  }
  thread.joined = [];
}
