import { isOpen, nextOpening } from './hours';
import { routeOf, routesFor, type Route, type WatchFacts } from './route';
import type { Happening, Leg, Thread, ToldItem } from './telling';
import type { TellingDraft } from './telling-draft';
import { belongsTo } from '@/core/messages/likely-cause';
import { burstAt, itemOf, noteOpening, sayBefore, toldLately } from './together';
import { topicOf } from './topic';

/** Why nobody hears of a watch. */
const silence = (watch: WatchFacts | null) => (watch?.tells?.how === 'nobody' ? 'muted' : 'no-route');

/** Routes start out on a trouble. */
export function begin(draft: TellingDraft, thread: Thread, now: number): void {
  const routes = routesFor(draft.setup.routes, thread.open!.topic, thread.watch);
  if (routes.length === 0) draft.note(now, thread.key, silence(thread.watch));
  thread.legs = routes.map((route) => ({
    routeId: route.id,
    step: 0,
    dueAt: route.steps.length > 0 ? now + route.steps[0]!.afterMs : null,
    again: 0,
    base: now,
  }));
}

/** The next step of a route, or telling all again. */
export function runLeg(draft: TellingDraft, key: string, routeId: number, at: number, now: number): void {
  const thread = draft.thread(key)!;
  const leg = thread.legs.find((one) => one.routeId === routeId)!;
  const route = routeOf(draft.setup.routes, routeId, thread.watch);
  if (!route) {
    leg.dueAt = null;
    draft.note(at, key, 'route-gone', null, routeId);
    return;
  }
  const step = route.steps[leg.step];
  if (step) {
    for (const channelId of step.channels) openTo(draft, thread, channelId, route, at);
    leg.step += 1;
  } else {
    tellAgain(draft, thread, leg, route, at);
    leg.again += 1;
  }
  leg.dueAt = dueAfter(leg, route, at, now);
}

function dueAfter(leg: Leg, route: Route, at: number, now: number): number | null {
  const next = route.steps[leg.step];
  if (next) return Math.max(at, leg.base + next.afterMs);
  const { againMs, againMost } = route;
  if (againMs === null || (againMost !== null && leg.again >= againMost)) return null;
  // Reminders that were slept through are not told one after the other.
  return at + againMs * Math.max(1, Math.floor((now - at) / againMs));
}

function tellAgain(draft: TellingDraft, thread: Thread, leg: Leg, route: Route, at: number): void {
  if (!speaks(route, thread, at)) {
    draft.note(at, thread.key, 'outside-hours', null, route.id);
    return;
  }
  const { event, at: noticed } = thread.open!;
  const began = 'began' in event ? event.began : noticed;
  const still = { kind: 'still-down' as const, began, at, times: leg.again + 1, down: event };
  for (const [channelId, heard] of Object.entries(thread.heard)) {
    if (heard.how !== 'said' || heard.routeId !== route.id) continue;
    draft.say({ channelId: Number(channelId), thread, event: still, routeId: route.id, rule: 'again' });
  }
}

function speaks({ hours }: Route, { watch }: Thread, at: number): boolean {
  return isOpen(hours, at) || (hours!.outside === 'urgent' && watch?.urgency === 'any-hour');
}

/** A channel hears of a trouble for the first time: now, when hours open, with others, or not at all. */
function openTo(draft: TellingDraft, thread: Thread, channelId: number, route: Route, at: number): void {
  const open = speaks(route, thread, at);
  const heard = thread.heard[channelId];
  // What one route holds back for later another may say now.
  if (heard && !(heard.how === 'held' && open)) return;
  const note = (rule: 'channel-off' | 'dropped' | 'held' | 'gathered') =>
    draft.note(at, thread.key, rule, channelId, route.id);
  if (!draft.setup.channels.has(channelId)) return note('channel-off');
  const item = itemOf(thread, route.id);
  if (!open) {
    const releaseAt = route.hours!.outside === 'drop' ? null : nextOpening(route.hours!, at);
    if (releaseAt === null) return note('dropped');
    thread.heard[channelId] = { how: 'held', routeId: route.id };
    draft.room(channelId).held.push({ ...item, releaseAt });
    return note('held');
  }
  const room = draft.room(channelId);
  sayBefore(draft, room, thread.key);
  const burst = (room.openings = burstAt(room.openings, at, draft.setup));
  const { burstMost, togetherMs } = draft.setup.folding;
  const isMany = burst.count > burstMost;
  const others = () => [...toldLately(draft, room, at), ...burst.gathered].map(asTold);
  if (isMany || belongsTo(asTold(item), others())) {
    thread.heard[channelId] = { how: 'gathered', routeId: route.id };
    burst.gathered.push(item);
    if (!isMany) burst.soonAt ??= at + togetherMs;
    return note('gathered');
  }
  noteOpening(room, thread.key, at);
  sayOpening(draft, thread, channelId, route.id);
}

const asTold = ({ watch, event }: ToldItem) => ({
  watchId: watch?.id ?? null,
  name: watch?.name ?? '',
  event,
});

function sayOpening(draft: TellingDraft, thread: Thread, channelId: number, routeId: number): void {
  thread.heard[channelId] = { how: 'said', routeId };
  thread.listening[channelId] = routeId;
  const rule = routeId < 0 ? 'own' : 'step';
  draft.say({ channelId, thread, event: thread.open!.event, routeId, rule });
}

/** What has no end goes to those who hear at once, by the same hours and bursts. */
export function tellOnce(
  draft: TellingDraft,
  { thread: key, watch, event, routes: about }: Extract<Happening, { event: unknown }>,
  now: number,
): void {
  const all = routesFor(draft.setup.routes, topicOf(event)!, watch);
  const routes = about ? all.filter(({ id }) => about.includes(id)) : all;
  if (routes.length === 0) return draft.note(now, key, silence(watch));
  // A conversation of its own that is over as soon as it is told.
  const own = `${key}#${now}`;
  const thread = draft.newThread(own, watch);
  thread.open = { topic: topicOf(event)!, event, at: now, outageId: null };
  for (const route of routes) {
    for (const channelId of route.steps[0]?.channels ?? []) openTo(draft, thread, channelId, route, now);
  }
  draft.dropThread(own);
}
