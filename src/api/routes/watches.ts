import { newCheckinKey } from '@/accounts/secrets';
import { uniqueName } from '@/core/settings/unique-name';
import { filterFromQuery, passes } from '@/core/settings/watch-filter';
import { probeKind } from '@/probes/kinds/registry';
import { filterable } from '@/probes/diagnosis/watch-target';
import { fetchDeletedWatches, restoreWatch } from '@/store/watches/deleted-watches';
import { fetchEvidence } from '@/store/history/evidence';
import { fetchFindings } from '@/store/history/findings';
import { fetchOutages } from '@/store/history/outages';
import { fetchReports } from '@/store/history/reports';
import {
  deleteWatches,
  fetchWatch,
  fetchWatches,
  saveNewWatch,
  saveWatchChange,
  saveWatchesPaused,
  type WatchWithStatus,
} from '@/store/watches/watches';
import { notFound, Problem, refused } from '@/api/problem';
import { idOf, limitOf, type Call, type Route } from '@/api/route';
import { withoutSecrets } from '@/api/secret-settings';
import { evidenceShape, findingShape, iso, outageShape, reportShape, watchShape } from '@/api/shapes';
import { bodyOf, withoutInherited } from '@/api/valid-watch';
import { likeWatch, tellEngine, validWatch, watchBody } from './watch-calls';

async function found(call: Call): Promise<WatchWithStatus> {
  const watch = await fetchWatch(call.context.db, idOf(call));
  if (!watch) throw notFound(`watch ${call.params.id}`);
  return watch;
}

async function setPaused(call: Call, paused: boolean) {
  const watch = await found(call);
  await saveWatchesPaused(call.context.db, [watch.id], paused);
  await tellEngine(call, [watch.id]);
  return watchShape(await found(call), call);
}

export const watchRoutes: Route[] = [
  {
    method: 'GET',
    path: '/watches',
    tag: 'Watches',
    summary: 'All watches with their state, or those a filter lets through',
    query: [
      { name: 'state', description: 'Any of these states; may be given several times.' },
      { name: 'kind', description: 'Any of these kinds; may be given several times.' },
      { name: 'section', description: 'Any of these sections; may be given several times.' },
      { name: 'tag', description: 'Any of these tags; may be given several times.' },
      { name: 'text', description: 'Pieces of text that must all be in name, target, section or tags.' },
    ],
    status: 200,
    answer: 'An array of watches, in the order of the desk.',
    handle: async (call) => {
      const filter = filterFromQuery(call.query);
      const watches = (await fetchWatches(call.context.db)).filter((w) => passes(filter, filterable(w)));
      return watches.map((w) => watchShape(w, call));
    },
  },
  {
    method: 'POST',
    path: '/watches',
    tag: 'Watches',
    summary: 'Make a watch',
    body: watchBody,
    query: [{ name: 'watch', description: 'The watch whose secrets are meant by {"kept": true}.' }],
    status: 201,
    answer: 'The watch. A probe takes its first look at once.',
    handle: async (call) => {
      const made = await validWatch(call, call.body, null, await likeWatch(call));
      if (!(call.body as { name?: unknown }).name) {
        const others = await fetchWatches(call.context.db);
        made.name = uniqueName(
          made.name,
          others.map((other) => other.name),
        );
      }
      const id = await saveNewWatch(call.context.db, {
        ...made,
        config: made.own,
        checkinKey: made.config.type === 'checkin' ? newCheckinKey() : null,
        createdAt: call.now,
      });
      await tellEngine(call, [id]);
      return watchShape((await fetchWatch(call.context.db, id))!, call);
    },
  },
  {
    method: 'GET',
    path: '/watches/{id}',
    tag: 'Watches',
    summary: 'One watch',
    status: 200,
    answer: 'The watch.',
    handle: async (call) => watchShape(await found(call), call),
  },
  {
    method: 'PATCH',
    path: '/watches/{id}',
    tag: 'Watches',
    summary: 'Change a watch; fields that are left out stay as they are',
    body: watchBody,
    status: 200,
    answer: 'The watch as it is now.',
    handle: async (call) => {
      const watch = await found(call);
      const change = (call.body ?? {}) as Record<string, unknown>;
      if (change.kind !== undefined && change.kind !== watch.kind) {
        throw refused([{ field: 'kind', message: 'The kind of a watch cannot be changed; make a new one.' }]);
      }
      const { own } = watch;
      const stored = own.type === 'probe' ? withoutSecrets(probeKind(watch.kind), own.settings) : null;
      const settings = stored && { ...stored, ...(change.settings as object) };
      const back = Array.isArray(change.inherit) ? change.inherit.map(String) : [];
      const body = { ...bodyOf(watch, settings), ...change, ...(settings && { settings }) };
      const valid = await validWatch(call, withoutInherited(body, back), watch);
      await saveWatchChange(call.context.db, watch.id, { ...valid, config: valid.own });
      await tellEngine(call, [watch.id]);
      return watchShape(await found(call), call);
    },
  },
  {
    method: 'DELETE',
    path: '/watches/{id}',
    tag: 'Watches',
    summary: 'Delete a watch; it can be brought back for seven days',
    status: 204,
    answer: 'Nothing.',
    handle: async (call) => {
      const watch = await found(call);
      await deleteWatches(call.context.db, [watch.id], call.now);
      await tellEngine(call, [watch.id]);
    },
  },
  {
    method: 'GET',
    path: '/deleted-watches',
    tag: 'Watches',
    summary: 'Watches that were deleted in the last seven days',
    status: 200,
    answer: 'An array of watches that can be brought back.',
    handle: async (call) =>
      (await fetchDeletedWatches(call.context.db, call.now)).map((watch) => ({
        ...watch,
        deletedAt: iso(watch.deletedAt),
      })),
  },
  {
    method: 'POST',
    path: '/deleted-watches/{id}/restore',
    tag: 'Watches',
    summary: 'Bring a deleted watch back, with its history',
    status: 200,
    answer: 'The watch.',
    handle: async (call) => {
      if (!(await restoreWatch(call.context.db, idOf(call), call.now))) {
        throw notFound(`deleted watch ${call.params.id}`);
      }
      await tellEngine(call, [idOf(call)]);
      return watchShape(await found(call), call);
    },
  },
  {
    method: 'POST',
    path: '/watches/{id}/pause',
    tag: 'Watches',
    summary: 'Pause a watch',
    status: 200,
    answer: 'The watch.',
    handle: (call) => setPaused(call, true),
  },
  {
    method: 'POST',
    path: '/watches/{id}/resume',
    tag: 'Watches',
    summary: 'End a pause',
    status: 200,
    answer: 'The watch.',
    handle: (call) => setPaused(call, false),
  },
  {
    method: 'POST',
    path: '/watches/{id}/look',
    tag: 'Watches',
    summary: 'Look now',
    query: [{ name: 'afresh', description: '“true” takes what is found now as what it is compared with.' }],
    status: 200,
    answer: 'The finding.',
    handle: async (call) => {
      const watch = await found(call);
      if (watch.config.type !== 'probe') {
        throw new Problem(
          409,
          'Nothing to look at',
          'A check-in watch waits to hear; nothing can be looked at.',
        );
      }
      if (watch.paused) {
        throw new Problem(409, 'Paused', 'This watch is paused. End the pause to look at it.');
      }
      const afresh = call.query.get('afresh') === 'true';
      return findingShape(await call.context.engine.call('lookNow', { watchId: watch.id, afresh }));
    },
  },
  {
    method: 'GET',
    path: '/watches/{id}/findings',
    tag: 'Watches',
    summary: 'The findings of a watch, the newest first',
    query: [
      { name: 'before', description: 'Only findings before this time (ISO 8601).' },
      { name: 'limit', description: 'At most this many (100; up to 1000).' },
    ],
    status: 200,
    answer: 'An array of findings.',
    handle: async (call) => {
      const watch = await found(call);
      const text = call.query.get('before');
      const before = text === null ? undefined : Date.parse(text);
      if (before !== undefined && Number.isNaN(before)) {
        const message = `Expected before to be a time such as 2026-11-24T08:00:00Z, got "${text}".`;
        throw refused([{ field: 'before', message }]);
      }
      const page = { before, limit: limitOf(call, 100, 1000) };
      return (await fetchFindings(call.context.db, watch.id, page)).map(findingShape);
    },
  },
  {
    method: 'GET',
    path: '/watches/{id}/outages',
    tag: 'Watches',
    summary: 'The outages of a watch, the newest first',
    status: 200,
    answer: 'An array of outages.',
    handle: async (call) => {
      const watch = await found(call);
      return (await fetchOutages(call.context.db, { watchId: watch.id })).map(outageShape);
    },
  },
  {
    method: 'GET',
    path: '/watches/{id}/evidence',
    tag: 'Watches',
    summary: 'What was seen when looks first failed, or failed in a new way; the newest first',
    query: [{ name: 'limit', description: 'At most this many (20; up to 100).' }],
    status: 200,
    answer: 'An array of failed looks with their evidence; secrets and cookies are blanked.',
    handle: async (call) => {
      const watch = await found(call);
      const page = { limit: limitOf(call, 20, 100) };
      return (await fetchEvidence(call.context.db, watch.id, page)).map(evidenceShape);
    },
  },
  {
    method: 'GET',
    path: '/watches/{id}/reports',
    tag: 'Watches',
    summary: 'What a job reported, the newest first',
    query: [{ name: 'limit', description: 'At most this many (100; up to 1000).' }],
    status: 200,
    answer: 'An array of reports with their output.',
    handle: async (call) => {
      const watch = await found(call);
      return (await fetchReports(call.context.db, watch.id, limitOf(call, 100, 1000))).map(reportShape);
    },
  },
  {
    method: 'GET',
    path: '/outages',
    tag: 'Watches',
    summary: 'The outages of all watches, the newest first',
    query: [{ name: 'limit', description: 'At most this many (100; up to 1000).' }],
    status: 200,
    answer: 'An array of outages.',
    handle: async (call) =>
      (await fetchOutages(call.context.db, { limit: limitOf(call, 100, 1000) })).map(outageShape),
  },
];
