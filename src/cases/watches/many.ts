import type { Values } from '@/core/settings/cascade';
import { NO_FILTER, type WatchFilter } from '@/core/settings/watch-filter';
import { inChunks } from '@/store/db/chunks';
import { fetchLevels } from '@/store/watches/cascade';
import { fetchNamed, fetchTied } from '@/store/watches/tied';
import { fetchAll } from '@/views/overview/all-watches';
import {
  deleteWatches,
  fetchKnownIds,
  fetchWatches,
  saveWatchChanges,
  saveWatchesPaused,
  type WatchChange,
  type WatchWithStatus,
} from '@/store/watches/watches';
import { refused } from '@/cases/frame/refusal';
import { asIs, asks, changes, type Asking } from '@/cases/frame/use-case';
import { validateBody } from '@/cases/frame/validate';
import { fetchChannelIds } from '@/store/messages/channels';
import { manySchema } from '@/cases/schemas/shared';
import type { Db } from '@/store/db/connection';
import { tellEngine } from './around';
import { A_PART } from './batch';
import { checkTellsTo } from './valid-watch';
import {
  changedOwn,
  checkRestsOn,
  effectsOf,
  saidValues,
  type Change,
  type Effect,
  type Moved,
  type Others,
} from './sharing';

interface ManyBody {
  ids?: number[];
  filter?: WatchFilter;
  action?: 'pause' | 'resume' | 'delete';
  section?: string | null;
  addTags?: string[];
  removeTags?: string[];
  inherit?: string[];
  preview: boolean;
}

/** The ids that are meant, in the order of sections; refuses ids of watches there are not. */
async function meant({ db, world, now }: Asking, { ids, filter }: ManyBody): Promise<readonly number[]> {
  if ((ids === undefined) === (filter === undefined)) {
    throw refused([{ field: 'ids', message: 'Expected either ids or a filter.' }]);
  }
  if (filter) {
    const all = await fetchAll(db, now, await world.engine.isConnected());
    return all.matching({ ...NO_FILTER, ...filter });
  }
  const known = await fetchKnownIds(db, ids!);
  const missing = ids!.find((id) => !known.has(id));
  if (missing !== undefined) {
    throw refused([{ field: 'ids', message: `Expected ids of watches; there is no watch ${missing}.` }]);
  }
  return [...known];
}

function tagsAfter(watch: WatchWithStatus, { addTags = [], removeTags = [] }: ManyBody): string[] {
  const now = watch.tags.map((tag) => tag.name);
  return [...new Set([...now, ...addTags])].filter((name) => !removeTags.includes(name));
}

/** What the change does to a watch besides its settings, in words. */
function plainChanges(watch: WatchWithStatus, change: ManyBody): Change[] {
  const said: Change[] = [];
  const tags = watch.tags.map((tag) => tag.name).join(', ') || 'none';
  const after = tagsAfter(watch, change).join(', ') || 'none';
  if (change.action === 'delete') said.push({ label: 'Watch', before: 'there', after: 'deleted' });
  if (change.action === 'pause' && !watch.paused) {
    said.push({ label: 'Watch', before: 'at work', after: 'paused' });
  }
  if (change.action === 'resume' && watch.paused) {
    said.push({ label: 'Watch', before: 'paused', after: 'at work' });
  }
  if (change.section !== undefined && (change.section || null) !== watch.section) {
    said.push({ label: 'Section', before: watch.section ?? 'none', after: change.section || 'none' });
  }
  if (tags !== after) said.push({ label: 'Tags', before: tags, after });
  return said;
}

/** What a change to some watches comes to: for each what would be kept, and what differs in words. */
async function planMany(db: Db, ids: readonly number[], { sent, valid }: CheckedMany) {
  const chosen = await fetchWatches(db, ids);
  const levels = await fetchLevels(db);
  const {
    ids: _ids,
    filter: _filter,
    action: _action,
    section,
    addTags: _add,
    removeTags: _remove,
    inherit = [],
    preview: _preview,
    ...given
  } = sent;
  const said = saidValues(given, valid);
  checkTellsTo(said, await fetchChannelIds(db));
  const setsAny = Object.keys(said).length + inherit.length > 0;
  const moved = new Map<number, Moved>();
  for (const watch of chosen) {
    moved.set(watch.id, {
      section: section === undefined ? watch.section : valid.section || null,
      own: setsAny ? changedOwn(watch, said, inherit, levels.usual) : watch.own,
    });
  }
  const settings = new Map<number, Effect>();
  if (setsAny || section !== undefined) {
    const others = await fetchOthers(db, chosen, said);
    checkRestsOn(said, others.names);
    for (const effect of effectsOf(chosen, levels, levels, moved, others)) settings.set(effect.id, effect);
  }
  const effects = chosen.flatMap((watch): Effect[] => {
    const changes = [...plainChanges(watch, valid), ...(settings.get(watch.id)?.changes ?? [])];
    return changes.length === 0 ? [] : [{ id: watch.id, name: watch.name, changes }];
  });
  return { chosen, moved, effects };
}

/** What has to be known of watches beside those that are changed: what ties lead to, and who is tied at all. */
async function fetchOthers(db: Db, chosen: readonly WatchWithStatus[], said: Values): Promise<Others> {
  const tied = await fetchTied(db);
  const named = new Set((said.restsOn as number[] | undefined) ?? []);
  for (const { config } of [...chosen, ...tied]) for (const id of config.restsOn ?? []) named.add(id);
  const names = await fetchNamed(db, [...named]);
  return { tied, names: new Map(names.map(({ id, name }) => [id, name])) };
}

/** Who is only paused or deleted is not written anew. */
function changesOf(
  { chosen, moved }: Awaited<ReturnType<typeof planMany>>,
  valid: ManyBody,
): Map<number, WatchChange> {
  const changed = new Map<number, WatchChange>();
  for (const watch of chosen) {
    const { own: config, section } = moved.get(watch.id)!;
    const tags = tagsAfter(watch, valid);
    const sameTags = tags.join() === watch.tags.map((tag) => tag.name).join();
    if (config === watch.own && section === watch.section && sameTags) continue;
    changed.set(watch.id, { name: watch.name, section, config, tags });
  }
  return changed;
}

export interface ManyChanged {
  preview: boolean;
  chosen: number;
  watches: Effect[];
}

interface ManyInput {
  body: unknown;
}

/** What was sent, and the same as it came out of its checks. */
interface CheckedMany {
  sent: ManyBody;
  valid: ManyBody;
}

async function validMany({ body }: ManyInput): Promise<CheckedMany> {
  return { sent: body as ManyBody, valid: await validateBody<ManyBody>(manySchema(), body) };
}

/** Says what a change to many watches would change, and changes nothing. */
export const previewMany = asks(
  'previewMany',
  'look',
  async (asking, input: ManyInput): Promise<ManyChanged> => {
    const checked = await validMany(input);
    const { chosen, effects } = await planMany(asking.db, await meant(asking, checked.valid), checked);
    return { preview: true, chosen: chosen.length, watches: effects };
  },
);

/** Some of many, in one transaction, with one word to the engine. */
export const changeSomeOfMany = changes(
  'changeSomeOfMany',
  'operate',
  asIs<{ ids: readonly number[]; checked: CheckedMany; at: number }>,
  async ({ trx, about, afterwards, world }, { ids, checked, at }): Promise<Effect[]> => {
    const plan = await planMany(trx, ids, checked);
    const { chosen, effects } = plan;
    await saveWatchChanges(trx, changesOf(plan, checked.valid));
    const { action } = checked.valid;
    if (action === 'pause' || action === 'resume') await saveWatchesPaused(trx, ids, action === 'pause');
    if (action === 'delete') await deleteWatches(trx, ids, at);
    for (const { id, name } of chosen) about({ kind: 'watch', id, name });
    afterwards(() => tellEngine(world, ids));
    return effects;
  },
);

/**
 * One change to many watches. It is refused before anything is done where it would not do for any of them; then so many
 * are changed in one transaction each, so that nobody else waits long for the right to write.
 */
export const changeMany = asks(
  'changeMany',
  'operate',
  async (asking, input: ManyInput): Promise<ManyChanged> => {
    const { who, world, db, now } = asking;
    const checked = await validMany(input);
    const ids = await meant(asking, checked.valid);
    if (ids.length > A_PART) await planMany(db, ids, checked);
    const effects: Effect[] = [];
    for (const some of inChunks(ids, A_PART)) {
      effects.push(...(await changeSomeOfMany(who, { ids: some, checked, at: now }, world)));
    }
    return { preview: false, chosen: ids.length, watches: effects };
  },
);
