import { groupTroubles, TOGETHER_MS, type TroubleGroup } from '@/core/causes/group-troubles';
import type { TroubleFacts } from '@/core/causes/machines';
import type { Speech } from '@/core/languages/speech';
import type { MessageEvent } from './message';

/** A trouble as far as it may belong to another one. */
export interface Told {
  watchId: number | null;
  name: string;
  event: MessageEvent;
}

/** What is known of a trouble that is told; null for what shares nothing. */
function factsOf({ watchId, name, event }: Told): TroubleFacts | null {
  if (watchId === null || event.kind !== 'down' || !event.shares) return null;
  const { began, cause, shares } = event;
  // Who is well there is not known here: that a host is silent is not said on the word of one that is down.
  const hostAnswers = shares.hostAnswers === true ? true : null;
  return { watchId, name, began, cause, restsOn: [], ...shares, hostAnswers };
}

function groupsOf(troubles: readonly Told[]): TroubleGroup[] {
  return groupTroubles(
    troubles.map(factsOf).filter((facts) => facts !== null),
    [],
  );
}

/** Whether a trouble likely has its cause in common with any of those before it. */
export function belongsTo(trouble: Told, before: readonly Told[]): boolean {
  const facts = factsOf(trouble);
  if (!facts) return false;
  const near = before.filter(
    ({ event }) => event.kind === 'down' && Math.abs(event.began - facts.began) <= TOGETHER_MS,
  );
  if (near.length === 0) return false;
  return groupsOf([...near, trouble]).some(({ watchIds }) => watchIds.includes(facts.watchId));
}

/** The first of those told before that likely has its cause in common with all of these; null where there is none. */
export function rootOf<T extends Told>(items: readonly Told[], before: readonly T[]): T | null {
  const group = groupsOf([...before, ...items]).find(({ watchIds }) =>
    items.every(({ watchId }) => watchId !== null && watchIds.includes(watchId)),
  );
  return before.find(({ watchId }) => watchId !== null && group?.watchIds.includes(watchId)) ?? null;
}

/** A line for each likely cause that some of these have in common, with those told of before; advice in English only. */
export function likelyCauses(
  items: readonly Told[],
  before: readonly Told[],
  { language, say, list }: Speech,
): string[] {
  const all = [...before, ...items];
  const names = new Map(all.map(({ watchId, name }) => [watchId, name]));
  const fresh = new Set(items.map(({ watchId }) => watchId));
  return groupsOf(all)
    .filter(({ watchIds }) => watchIds.some((id) => fresh.has(id)))
    .flatMap(({ watchIds, sentence, advice }) =>
      language === 'en'
        ? [sentence, say('try', { advice })]
        : [say('likely.together', { names: list(watchIds.map((id) => names.get(id) ?? String(id))) })],
    );
}
