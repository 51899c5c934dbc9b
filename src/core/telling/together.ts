import { TOGETHER_MS } from '@/core/causes/group-troubles';
import { drilled } from '@/core/messages/drill';
import { rootOf } from '@/core/messages/likely-cause';
import type { Burst, Room, Setup, Thread, ToldItem } from './telling';
import type { SaidItem } from '@/core/messages/said';
import type { TellingDraft } from './telling-draft';

export function itemOf({ key, watch, open }: Thread, routeId: number): ToldItem {
  const { event, at, outageId } = open!;
  return { thread: key, watch, event, outageId, at, routeId, over: null };
}

/** The burst something belongs to, with one more counted in. */
export function burstAt(burst: Burst | null, at: number, { folding }: Setup): Burst {
  if (!burst || at - burst.since >= folding.burstMs) return { since: at, count: 1, gathered: [] };
  return { ...burst, count: burst.count + 1, gathered: [...burst.gathered] };
}

function asSaid({ watch, event, over }: ToldItem): SaidItem {
  // Among what is real, what is made up says so by itself.
  const name = watch?.drill === undefined ? (watch?.name ?? '') : drilled(watch.name);
  return { watchId: watch?.id ?? null, name, event, over };
}

/** The time of a burst is over: what was gathered is told in one. */
export function endBurst(draft: TellingDraft, channelId: number, of: 'openings' | 'closings'): void {
  const room = draft.room(channelId);
  const { gathered } = room[of]!;
  room[of] = null;
  if (gathered.length > 0) {
    if (of === 'closings') {
      const event = { kind: 'several-over' as const, items: gathered.map(asSaid) };
      draft.say({
        channelId,
        thread: null,
        event,
        routeId: gathered[0]!.routeId,
        rule: 'burst',
        items: gathered,
      });
    } else sayTogether(draft, room, gathered, 'burst');
  }
  draft.tidyRoom(channelId);
}

/** What belongs to what was told is told, before the burst is over; that goes on counting. */
export function sayGathered(draft: TellingDraft, channelId: number): void {
  const room = draft.room(channelId);
  const { soonAt: _, gathered, ...rest } = room.openings!;
  room.openings = { ...rest, gathered: [] };
  if (gathered.length > 0) sayTogether(draft, room, gathered, 'together');
}

/** So many conversations are remembered that others may belong to, and so long. */
const MOST_LATELY = 50;

/** An opening was told: what comes of late may belong to it. */
export function noteOpening(room: Room, thread: string, at: number): void {
  const lately = (room.lately ?? []).filter((one) => at - one.at <= TOGETHER_MS && one.thread !== thread);
  room.lately = [...lately, { thread, at }].slice(-MOST_LATELY);
}

/** What was told so long ago that nothing new belongs to it. */
export function forgetLately(draft: TellingDraft, channelId: number, at: number): void {
  const room = draft.room(channelId);
  const lately = (room.lately ?? []).filter((one) => at - one.at <= TOGETHER_MS);
  if (lately.length > 0) room.lately = lately;
  else delete room.lately;
  draft.tidyRoom(channelId);
}

/** What was told here of late and still goes on. */
export function toldLately(draft: TellingDraft, { lately = [] }: Room, at: number): ToldItem[] {
  return lately.flatMap(({ thread: key, at: toldAt }) => {
    const thread = at - toldAt <= TOGETHER_MS ? draft.threads.get(key) : undefined;
    return thread?.open ? itemOf(thread, 0) : [];
  });
}

/** What was told that likely has its cause in common with all of these. */
function rootIn(items: readonly ToldItem[], told: readonly ToldItem[]): ToldItem | null {
  const asTold = (item: ToldItem) => ({ ...asSaid(item), item });
  return rootOf(items.map(asTold), told.map(asTold))?.item ?? null;
}

/** What waited for one channel is told: one by itself as it is, several in one. */
function sayTogether(
  draft: TellingDraft,
  room: Room,
  items: readonly ToldItem[],
  because: 'burst' | 'hours' | 'together',
): void {
  const { channelId } = room;
  const rule = ({ hours: 'hours-opened', burst: 'burst', together: 'together' } as const)[because];
  const [first] = items;
  const opened = first && draft.thread(first.thread);
  if (items.length === 1 && first!.over === null && because !== 'together') {
    draft.say({
      channelId,
      thread: opened ?? null,
      event: first!.event,
      routeId: first!.routeId,
      rule,
      items,
    });
  } else {
    const told = toldLately(draft, room, draft.now).filter(({ thread }) =>
      items.every((item) => item.thread !== thread),
    );
    const before = told.map(asSaid);
    const event = {
      kind: 'several' as const,
      because,
      items: items.map(asSaid),
      ...(before.length > 0 && { before }),
    };
    const follows = because === 'together' ? rootIn(items, told) : null;
    draft.say({ channelId, thread: null, event, routeId: first!.routeId, rule, items, follows });
  }
  for (const { thread: key, routeId, over } of items) {
    const thread = over === null ? draft.thread(key) : undefined;
    if (!thread?.open || !thread.heard[channelId]) continue;
    thread.heard[channelId] = { how: 'said', routeId };
    thread.listening[channelId] = routeId;
    noteOpening(room, key, draft.now);
  }
}

/** Hours have opened for some of what a channel is to hear. */
export function release(draft: TellingDraft, channelId: number, at: number): void {
  const room = draft.room(channelId);
  const items = room.held.filter((item) => item.releaseAt <= at);
  room.held = room.held.filter((item) => item.releaseAt > at);
  sayTogether(draft, room, items, 'hours');
  draft.tidyRoom(channelId);
}

/** What one conversation has waiting for hours is told before it goes on; what goes on itself needs no more waiting. */
export function sayBefore(draft: TellingDraft, room: Room, thread: string): void {
  const earlier = room.held.filter((item) => item.thread === thread && item.over !== null);
  room.held = room.held.filter((item) => item.thread !== thread);
  if (earlier.length > 0) sayTogether(draft, room, earlier, 'hours');
}
