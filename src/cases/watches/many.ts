import { NO_FILTER, passes, type WatchFilter } from '@/core/settings/watch-filter';
import { filterable } from '@/probes/diagnosis/watch-target';
import { fetchLevels } from '@/store/watches/cascade';
import {
  deleteWatches,
  fetchWatches,
  saveWatchChanges,
  saveWatchesPaused,
  type WatchChange,
  type WatchWithStatus,
} from '@/store/watches/watches';
import { refused } from '@/cases/frame/refusal';
import { asks, changes } from '@/cases/frame/use-case';
import { validateBody } from '@/cases/frame/validate';
import { fetchChannelIds } from '@/store/messages/channels';
import { manySchema } from '@/cases/schemas/shared';
import type { Db } from '@/store/db/connection';
import { tellEngine } from './around';
import { checkTellsTo } from './valid-watch';
import {
  changedOwn,
  checkRestsOn,
  effectsOf,
  saidValues,
  type Change,
  type Effect,
  type Moved,
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

function meant(watches: readonly WatchWithStatus[], { ids, filter }: ManyBody): WatchWithStatus[] {
  if ((ids === undefined) === (filter === undefined)) {
    throw refused([{ field: 'ids', message: 'Expected either ids or a filter.' }]);
  }
  if (filter) return watches.filter((watch) => passes({ ...NO_FILTER, ...filter }, filterable(watch)));
  const missing = ids!.find((id) => !watches.some((watch) => watch.id === id));
  if (missing !== undefined) {
    throw refused([{ field: 'ids', message: `Expected ids of watches; there is no watch ${missing}.` }]);
  }
  return watches.filter((watch) => ids!.includes(watch.id));
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

/** What a change to many watches comes to: for each that is meant what would be kept, and what differs in words. */
async function planMany(db: Db, sent: ManyBody, valid: ManyBody) {
  const watches = await fetchWatches(db);
  const chosen = meant(watches, valid);
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
  checkRestsOn(said, watches);
  checkTellsTo(said, await fetchChannelIds(db));
  const setsAny = Object.keys(said).length + inherit.length > 0;
  const moved = new Map<number, Moved>();
  for (const watch of chosen) {
    moved.set(watch.id, {
      section: section === undefined ? watch.section : valid.section || null,
      own: setsAny ? changedOwn(watch, said, inherit, levels.usual) : watch.own,
    });
  }
  const settings = new Map(effectsOf(watches, levels, levels, moved).map((effect) => [effect.id, effect]));
  const effects = chosen.flatMap((watch): Effect[] => {
    const changes = [...plainChanges(watch, valid), ...(settings.get(watch.id)?.changes ?? [])];
    return changes.length === 0 ? [] : [{ id: watch.id, name: watch.name, changes }];
  });
  return { chosen, moved, effects };
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

async function validMany({ body }: ManyInput): Promise<{ sent: ManyBody; valid: ManyBody }> {
  return { sent: body as ManyBody, valid: await validateBody<ManyBody>(manySchema(), body) };
}

/** Says what a change to many watches would change, and changes nothing. */
export const previewMany = asks(
  'previewMany',
  'look',
  async ({ db }, input: ManyInput): Promise<ManyChanged> => {
    const { sent, valid } = await validMany(input);
    const { chosen, effects } = await planMany(db, sent, valid);
    return { preview: true, chosen: chosen.length, watches: effects };
  },
);

/** One change to many watches at once: all of them or none. */
export const changeMany = changes(
  'changeMany',
  'operate',
  validMany,
  async ({ trx, now, about, afterwards, world }, { sent, valid }): Promise<ManyChanged> => {
    const plan = await planMany(trx, sent, valid);
    const { chosen, effects } = plan;
    const ids = chosen.map((watch) => watch.id);
    await saveWatchChanges(trx, changesOf(plan, valid));
    const { action } = valid;
    if (action === 'pause' || action === 'resume') await saveWatchesPaused(trx, ids, action === 'pause');
    if (action === 'delete') await deleteWatches(trx, ids, now);
    for (const { id, name } of chosen) about({ kind: 'watch', id, name });
    afterwards(() => tellEngine(world, ids));
    return { preview: false, chosen: chosen.length, watches: effects };
  },
);
