import type { MessageEvent } from '@/core/messages/message';
import type { Thread, ToldItem } from './telling';
import type { TellingDraft } from './telling-draft';
import { burstAt, itemOf } from './together';
import { turns } from './turns';

/** A trouble is over: whoever heard of it hears that, whoever was to hear later hears both together. */
export function closes(draft: TellingDraft, thread: Thread, event: MessageEvent, now: number): void {
  const { key } = thread;
  for (const leg of thread.legs) {
    if (leg.dueAt === null || leg.step > 0) continue;
    draft.note(now, key, 'over-before-its-time', null, leg.routeId);
  }
  const wasUnsteady = thread.unsteady;
  turns(draft, thread, now);
  for (const [id, { how, routeId }] of Object.entries(thread.heard)) {
    const channelId = Number(id);
    if (how === 'said') {
      if (thread.unsteady) draft.note(now, key, 'unsteady', channelId, routeId);
      else closeTo(draft, thread, channelId, routeId, event, now);
      continue;
    }
    const room = draft.room(channelId);
    const over = <T extends ToldItem>(item: T): T =>
      item.thread === key && item.over === null ? { ...item, over: event } : item;
    if (how === 'held') room.held = room.held.map(over);
    else if (room.openings) room.openings = { ...room.openings, gathered: room.openings.gathered.map(over) };
  }
  if (wasUnsteady) draft.note(now, key, 'unsteady');
  Object.assign(thread, { open: null, legs: [], heard: {}, taken: null, joined: [], joinedAt: null });
}

function closeTo(
  draft: TellingDraft,
  thread: Thread,
  channelId: number,
  routeId: number,
  event: MessageEvent,
  now: number,
): void {
  const route = draft.setup.routes.find((one) => one.id === routeId);
  if (route && event.kind === 'recovered' && !route.topics.includes('recovered')) {
    return draft.note(now, thread.key, 'not-asked', channelId, routeId);
  }
  if (!draft.setup.channels.has(channelId)) {
    return draft.note(now, thread.key, 'channel-off', channelId, routeId);
  }
  const room = draft.room(channelId);
  const burst = (room.closings = burstAt(room.closings, now, draft.setup));
  if (burst.count > draft.setup.folding.burstMost) {
    burst.gathered.push({ ...itemOf(thread, routeId), over: event });
    return draft.note(now, thread.key, 'gathered', channelId, routeId);
  }
  draft.say({ channelId, thread, event, routeId, rule: 'over' });
}
