import { NO_FILTER, passes, type WatchFilter } from '@/core/settings/watch-filter';
import { fetchLevels } from '@/store/watches/cascade';
import {
  deleteWatches,
  fetchWatches,
  saveWatchChanges,
  saveWatchesPaused,
  type WatchChange,
  type WatchWithStatus,
} from '@/store/watches/watches';
import { filterable } from '@/probes/diagnosis/watch-target';
import { refused } from '@/api/problem';
import type { Call, Route } from '@/api/route';
import { manySchema } from '@/api/schemas/shared';
import {
  changedOwn,
  checkRestsOn,
  effectsOf,
  saidValues,
  type Change,
  type Effect,
  type Moved,
} from '@/api/sharing';
import { validateBody } from '@/api/validate';
import { tellEngine } from './watch-calls';

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

async function changeMany(call: Call) {
  const { db } = call.context;
  const valid = await validateBody<ManyBody>(manySchema(), call.body);
  const watches = await fetchWatches(db);
  const chosen = meant(watches, valid);
  const levels = await fetchLevels(db);
  const {
    ids: _ids,
    filter: _filter,
    action,
    section,
    addTags: _add,
    removeTags: _remove,
    inherit = [],
    preview,
    ...given
  } = call.body as ManyBody;
  const said = saidValues(given, valid);
  checkRestsOn(said, watches);
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
  if (!preview) {
    const changes = new Map<number, WatchChange>();
    for (const watch of chosen) {
      const { own: config, section: to } = moved.get(watch.id)!;
      const tags = tagsAfter(watch, valid);
      // Who is only paused or deleted is not written anew.
      if (
        config === watch.own &&
        to === watch.section &&
        tags.join() === watch.tags.map((tag) => tag.name).join()
      )
        continue;
      changes.set(watch.id, { name: watch.name, section: to, config, tags });
    }
    await saveWatchChanges(db, changes);
    const touched = chosen.map((watch) => watch.id);
    if (action === 'pause' || action === 'resume') await saveWatchesPaused(db, touched, action === 'pause');
    if (action === 'delete') await deleteWatches(db, touched, call.now);
    await tellEngine(call, touched);
  }
  return { preview: Boolean(preview), chosen: chosen.length, watches: effects };
}

/** One change to many watches at once. */
export const manyRoutes: Route[] = [
  {
    method: 'POST',
    path: '/watches/changes',
    tag: 'Watches',
    summary:
      'Change many watches at once: pause, move, tag, delete, shared settings; or see what that would change',
    body: manySchema(),
    status: 200,
    answer: 'How many watches were meant, and each for which something changes, with what was and what is.',
    handle: changeMany,
  },
];
