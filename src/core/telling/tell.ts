import { closes } from './closings';
import { dueTimes, type Due } from './due-times';
import { join, tellJoined } from './joined';
import { begin, runLeg, tellOnce } from './openings';
import { giveBack, take } from './taking';
import type { Happening, Setup, Telling, TellingInput, Told } from './telling';
import { TellingDraft } from './telling-draft';
import { endBurst, forgetLately, release, sayGathered } from './together';
import { topicOf } from './topic';
import { standsStill, turns } from './turns';

/**
 * The life of what is said: from the routes, what has been said so far and what happens now to what is said next.
 * Pure; what falls due in between is told at `tick`, or before the next thing that happens.
 */
export function tell(telling: Telling, input: TellingInput, now: number, setup: Setup): Told {
  return tellAll(telling, [input], now, setup);
}

/** The same for several things that happened in this order and are told at the same time. */
export function tellAll(telling: Telling, inputs: readonly TellingInput[], now: number, setup: Setup): Told {
  const draft = new TellingDraft(telling, setup, now);
  catchUp(draft, now, 'all');
  for (const input of inputs) {
    if (input.type === 'happened') happened(draft, input.happening, now);
    else if (input.type === 'take') take(draft, input, now);
    else if (input.type === 'give-back') giveBack(draft, input.thread, input.by, now);
    // What is due at once is said at once.
    catchUp(draft, now, 'fresh');
  }
  return draft.told();
}

/** When something falls due next; null where nothing does. */
export function nextTellingAt({ threads, rooms }: Telling, folding: Setup['folding']): number | null {
  let next: number | null = null;
  for (const { at } of dueTimes(threads.values(), rooms.values(), folding)) {
    if (next === null || at < next) next = at;
  }
  return next;
}

/** Does all that has fallen due, each at its own time and in order. */
function catchUp(draft: TellingDraft, now: number, which: 'all' | 'fresh'): void {
  const { threads, rooms } = draft.pieces(which);
  let due = [...dueTimes(threads, rooms, draft.setup.folding)].filter(({ at }) => at <= now);
  while (due.length > 0) {
    const first = due.reduce((a, b) => (b.at < a.at || (b.at === a.at && b.order < a.order) ? b : a));
    const together = (one: Due) => one.at === first.at && one.order === first.order;
    for (const one of due.filter(together)) doDue(draft, one, now);
    // Nothing else that was due has changed unless it was touched, and what was touched may be due anew.
    const again = draft.pieces('fresh');
    const touched = new Set<unknown>([
      ...again.threads.map(({ key }) => key),
      ...again.rooms.map(({ channelId }) => channelId),
    ]);
    due = due.filter((one) => !together(one) && !touched.has('thread' in one ? one.thread : one.channelId));
    due.push(...[...dueTimes(again.threads, again.rooms, draft.setup.folding)].filter(({ at }) => at <= now));
  }
}

function doDue(draft: TellingDraft, due: Due, now: number): void {
  switch (due.what) {
    case 'leg':
      return runLeg(draft, due.thread, due.routeId, due.at, now);
    case 'expires':
      return giveBack(draft, due.thread, null, due.at);
    case 'rests':
      return standsStill(draft, due.thread, due.at);
    case 'joined':
      return tellJoined(draft, due.thread);
    case 'burst':
      return endBurst(draft, due.channelId, due.of);
    case 'together':
      return sayGathered(draft, due.channelId);
    case 'forget':
      return forgetLately(draft, due.channelId, due.at);
    case 'hours':
      return release(draft, due.channelId, due.at);
  }
}

function happened(draft: TellingDraft, happening: Happening, now: number): void {
  if (happening.phase === 'joins') return join(draft, happening, now);
  if (happening.phase === 'once') return tellOnce(draft, happening, now);
  const { phase, thread: key, watch, event, outageId = null } = happening;
  if (phase === 'closes') {
    const thread = draft.thread(key);
    if (thread?.open) closes(draft, thread, event, now);
    else draft.note(now, key, 'never-told');
    return;
  }
  const thread = draft.thread(key) ?? draft.newThread(key, watch);
  if (thread.open) return draft.note(now, key, 'already-open');
  thread.watch = watch;
  turns(draft, thread, now);
  thread.open = { topic: topicOf(event)!, event, at: now, outageId };
  if (thread.unsteady) {
    draft.note(now, key, 'unsteady');
    return;
  }
  begin(draft, thread, now);
}
