import { factsOf } from '@/core/telling/happen';
import { HOUR_MS } from '@/core/time/units';
import knex from 'knex';
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { messageInWords } from '@/core/messages/kept-message';
import { newStatus, type Status, type StatusEvent } from '@/core/lifecycle/status';
import { histogramOf, quantileOf } from '@/core/history/histogram';
import { deleteChannel, saveNewChannel } from '@/store/messages/channels';
import { fetchEndpointByKey } from '@/store/watches/checkin-endpoints';
import { clearIntakeGaps, readIntakeGaps, saveOpening, savePulse } from '@/store/history/intake-gaps';
import { deleteFindingsBefore, fetchFindings, fetchTimes } from '@/store/history/findings';
import { fetchIncident, fetchIncidents, saveIncidentUpdate, saveNewIncident } from '@/store/pages/incidents';
import { fetchDeliveries } from '@/store/messages/sent';
import {
  fetchDueDeliveries,
  fetchNextDeliveryAt,
  fetchWaitingChannels,
  saveAttempts,
} from '@/store/messages/deliveries';
import { fetchOutages, fetchTold } from '@/store/history/outages';
import { saveNewPage } from '@/store/pages/pages';
import { Recorder, REPORT_CURSOR, type Outcome } from '@/store/history/recorder';
import { fetchLastRuns, fetchReports, fetchReportsAfter, saveReports } from '@/store/history/reports';
import { fetchRollupCursor, fetchHours, saveRollups } from '@/store/history/rollups';
import { deleteSection, fetchSections, saveSectionOrder } from '@/store/watches/sections';
import { incidentFacts, pageContent } from '../pages';
import { fetchSetting } from '@/store/db/settings';
import { fetchStretches } from '@/store/history/stretches';
import { deleteWatches, fetchWatch, fetchWatches, saveWatchChange } from '@/store/watches/watches';
import { fetchWindows, saveNewWindow } from '@/store/maintenance/windows';
import { makeWatch, periodConfig, tempStore, webConfig, type TempStore } from '../helpers';
import { makeRoom, tellerOn } from '../engine-on';
import { sayTo } from '../say-to';

const T0 = Date.parse('2026-11-20T08:00:00Z');

function upStatus(since: number): Status {
  return { ...newStatus(T0), state: 'up', since, lastAt: since, lastFine: true };
}

function fineOutcome(watchId: number, at: number, ms = 100): Outcome {
  return { watchId, status: upStatus(T0), events: [], finding: { at, verdict: 'fine', ms } };
}

function downOutcome(watchId: number, began: number): Outcome {
  return {
    watchId,
    status: { ...upStatus(T0), state: 'down', since: began },
    events: [
      { type: 'outage-began', began, noticed: began + 5, cause: 'port.refused', detail: { port: 80 } },
      { type: 'state', from: 'waiting', since: T0, to: 'down', at: began },
    ],
    finding: {
      at: began,
      verdict: 'failed',
      ms: 3,
      cause: 'port.refused',
      detail: { port: 80 },
      evidence: { address: '127.0.0.1' },
    },
    happenings: {
      at: began + 5,
      all: [
        {
          thread: `w${watchId}`,
          phase: 'opens',
          watch: factsOf({ id: watchId, name: 'Booking site', kind: 'web', section: null, tags: [] }),
          event: { kind: 'down', began, noticed: began + 5, cause: 'port.refused', detail: { port: 80 } },
        },
      ],
    },
  };
}

describe('the store', () => {
  let store: TempStore;
  let recorder: Recorder;
  beforeEach(async () => {
    store = await tempStore();
    recorder = new Recorder(store.db);
  });
  afterEach(() => store.close());

  it('writes ahead and keeps every commit', async () => {
    const pragma = async (name: string) =>
      Object.values(((await store.db.raw(`PRAGMA ${name}`)) as object[])[0]!)[0] as unknown;
    expect(await pragma('journal_mode')).toBe('wal');
    expect(await pragma('synchronous')).toBe(2);
    expect(await pragma('foreign_keys')).toBe(1);
  });

  it('can be read while another connection writes', async () => {
    const second = knex({
      client: 'better-sqlite3',
      connection: { filename: join(store.folder, 'lantern.db') },
      useNullAsDefault: true,
    });
    await second.transaction(async (trx) => {
      await trx('settings').insert({ key: 'half', value: 'done' });
      expect(await fetchSetting(store.db, 'half')).toBeNull();
    });
    expect(await fetchSetting(store.db, 'half')).toBe('done');
    await second.destroy();
  });

  it('keeps watches with their section; an empty section stays until it is deleted', async () => {
    const id = await makeWatch(store.db, webConfig('http://site.test/'), {
      section: 'On the water',
      createdAt: T0,
    });
    expect(await fetchWatch(store.db, id)).toMatchObject({
      name: 'Booking site',
      section: 'On the water',
      status: newStatus(T0),
      lastFinding: null,
    });
    const config = webConfig('http://other.test/');
    await saveWatchChange(store.db, id, { name: 'Other', section: 'Crew house', config });
    expect(await fetchWatch(store.db, id)).toMatchObject({ name: 'Other', section: 'Crew house', config });
    const [water, house] = await fetchSections(store.db);
    expect([water, house]).toMatchObject([
      { name: 'On the water', watches: 0 },
      { name: 'Crew house', watches: 1 },
    ]);
    await saveSectionOrder(store.db, [house!.id]);
    expect((await fetchSections(store.db)).map((s) => s.name)).toEqual(['Crew house', 'On the water']);
    await deleteSection(store.db, house!.id);
    expect(await fetchWatch(store.db, id)).toMatchObject({ name: 'Other', section: null });
  });

  it('forgets a deleted watch everywhere it is read', async () => {
    const id = await makeWatch(store.db, periodConfig(60, 10), { checkinKey: 'k'.repeat(32) });
    expect(await fetchEndpointByKey(store.db, 'k'.repeat(32), T0)).toMatchObject({ watchId: id });
    await recorder.save([downOutcome(id, T0 + 1000)]);
    await deleteWatches(store.db, [id], T0);
    expect(await fetchWatch(store.db, id)).toBeNull();
    expect(await fetchWatches(store.db)).toEqual([]);
    expect(await fetchEndpointByKey(store.db, 'k'.repeat(32), T0)).toBeNull();
    expect(await fetchOutages(store.db, {})).toEqual([]);
  });

  it('writes finding, status, history, outage and message together', async () => {
    const channel = await makeRoom(store, {}, T0);
    await saveNewChannel(store.db, {
      kind: 'webhook',
      name: 'Resting',
      settings: {},
      enabled: false,
      createdAt: T0,
    });
    const id = await makeWatch(store.db, webConfig('http://site.test/'), { createdAt: T0 });
    await recorder.save([downOutcome(id, T0 + 60_000)]);
    expect((await fetchWatch(store.db, id))!.status.state).toBe('down');
    expect(await fetchFindings(store.db, id, { limit: 5 })).toEqual([
      { at: T0 + 60_000, verdict: 'failed', ms: 3, cause: 'port.refused', detail: { port: 80 }, value: null },
    ]);
    expect((await fetchStretches(store.db, [id], T0, T0 + 100_000)).get(id)).toEqual([
      { from: T0, to: T0 + 60_000, kind: 'waiting' },
      { from: T0 + 60_000, to: T0 + 100_000, kind: 'down' },
    ]);
    const [outage] = await fetchOutages(store.db, { watchId: id });
    expect(outage).toMatchObject({
      began: T0 + 60_000,
      noticed: T0 + 60_005,
      ended: null,
      evidence: { address: '127.0.0.1' },
    });
    await tellerOn(store.db, () => T0 + 60_010).work();
    const due = await fetchDueDeliveries(store.db, channel, T0 + 70_000, 10);
    expect(due.map((d) => d.channelId)).toEqual([channel]);
    expect(await fetchWaitingChannels(store.db)).toEqual([channel]);
    const place = { linkBase: 'http://desk.test', zone: 'UTC' };
    expect(messageInWords(due[0]!.message!, due[0]!.watchId, place)).toMatchObject({
      title: 'Booking site is down',
      link: `http://desk.test/watches/${id}`,
    });
  });

  it('leaves one bad outcome out, says so, and writes the others', async () => {
    const id = await makeWatch(store.db, webConfig('http://site.test/'), { createdAt: T0 });
    const broken = {
      ...fineOutcome(id, T0 + 2),
      happenings: { at: T0, all: [{ thread: null, phase: 'joins' as const, watch: null } as never] },
    };
    const left = await recorder.save([fineOutcome(id, T0 + 1), broken, fineOutcome(id, T0 + 3)]);
    expect(left.map(({ outcome }) => outcome.finding!.at)).toEqual([T0 + 2]);
    expect((left[0]!.error as Error).message).toContain('happenings.thread');
    // Nothing of the bad one is there, not even its finding.
    const kept = await fetchFindings(store.db, id, { limit: 5 });
    expect(kept.map((finding) => finding.at)).toEqual([T0 + 3, T0 + 1]);
    expect((await fetchWatch(store.db, id))!.status.state).toBe('up');
  });

  it('writes nothing and keeps all for another try while the database itself refuses', async () => {
    const id = await makeWatch(store.db, webConfig('http://site.test/'), { createdAt: T0 });
    await store.db.raw('PRAGMA query_only = ON');
    await expect(recorder.save([fineOutcome(id, T0 + 1), fineOutcome(id, T0 + 2)])).rejects.toThrow(
      'readonly',
    );
    await store.db.raw('PRAGMA query_only = OFF');
    expect(await fetchFindings(store.db, id, { limit: 5 })).toEqual([]);
  });

  it('drops a state that took no time, and keeps unobserved time beside the states', async () => {
    const id = await makeWatch(store.db, webConfig('http://site.test/'), { createdAt: T0 });
    await recorder.save([
      {
        watchId: id,
        status: upStatus(T0),
        events: [
          { type: 'state', from: 'waiting', since: T0, to: 'up', at: T0 },
          { type: 'unobserved', from: T0 + 10, to: T0 + 20 },
          { type: 'unobserved', from: T0 + 30, to: T0 + 30 },
        ],
      },
    ]);
    expect((await fetchStretches(store.db, [id], T0, T0 + 100)).get(id)).toEqual([
      { from: T0, to: T0 + 100, kind: 'up' },
      { from: T0 + 10, to: T0 + 20, kind: 'unobserved' },
    ]);
  });

  it('takes a stretch up again that was interrupted by forgiven lateness', async () => {
    const id = await makeWatch(store.db, periodConfig(60, 10), { createdAt: T0 });
    const state = (from: 'waiting' | 'up' | 'overdue', since: number, to: 'up' | 'overdue', at: number) => ({
      type: 'state' as const,
      from,
      since,
      to,
      at,
    });
    const save = (...events: StatusEvent[]) => recorder.save([{ watchId: id, status: upStatus(T0), events }]);
    await save(state('waiting', T0, 'up', T0 + 10));
    await save(state('up', T0 + 10, 'overdue', T0 + 70));
    await save(state('overdue', T0 + 70, 'up', T0 + 10));
    expect((await fetchStretches(store.db, [id], T0, T0 + 100)).get(id)).toEqual([
      { from: T0, to: T0 + 10, kind: 'waiting' },
      { from: T0 + 10, to: T0 + 100, kind: 'up' },
    ]);
  });

  it('ends outages and notes further causes', async () => {
    const id = await makeWatch(store.db, webConfig('http://site.test/'), { createdAt: T0 });
    await recorder.save([downOutcome(id, T0 + 1000)]);
    await recorder.save([
      {
        watchId: id,
        status: upStatus(T0),
        events: [
          { type: 'outage-cause', at: T0 + 2000, cause: 'reply.status', detail: { status: 500 } },
          { type: 'outage-ended', began: T0 + 1000, ended: T0 + 9000 },
        ],
      },
    ]);
    const [outage] = await fetchOutages(store.db, { watchId: id });
    expect(outage).toMatchObject({
      ended: T0 + 9000,
      cause: 'port.refused',
      causes: ['port.refused', 'reply.status'],
    });
    expect(await fetchOutages(store.db, {}, { since: T0 + 9000, limit: 9 })).toEqual([]);
    expect(await fetchOutages(store.db, {}, { since: T0 + 8999, limit: 9 })).toHaveLength(1);
  });

  it('keeps reports in order, and the cursor with what they brought about', async () => {
    const id = await makeWatch(store.db, periodConfig(60, 10));
    const report = {
      watchId: id,
      kind: 'done' as const,
      code: 0,
      run: null,
      method: 'GET',
      address: '127.0.0.1',
      output: null,
    };
    await saveReports(store.db, [
      { ...report, at: T0 },
      { ...report, at: T0 + 1, output: 'all stations read' },
    ]);
    const [first, second] = await fetchReportsAfter(store.db, 0, 10);
    expect(await fetchReportsAfter(store.db, first!.id, 10)).toEqual([second]);
    await recorder.save([
      {
        watchId: id,
        status: upStatus(T0),
        events: [{ type: 'run-ended', at: T0 + 1, ms: 231_000 }],
        run: { at: T0 + 1, fine: true, ms: 231_000 },
        reportId: second!.id,
      },
    ]);
    expect(await fetchSetting(store.db, REPORT_CURSOR)).toBe(String(second!.id));
    expect((await fetchReports(store.db, id, { limit: 1 }))[0]).toMatchObject({
      runMs: 231_000,
      output: 'all stations read',
    });
    expect(await fetchLastRuns(store.db, [id, id + 1])).toEqual(new Map([[id, 231_000]]));
    expect(await fetchTimes(store.db, id, T0, T0 + 10)).toEqual([{ at: T0 + 1, ms: 231_000 }]);
  });

  it('rolls whole hours up once, to what the raw rows give', async () => {
    const id = await makeWatch(store.db, webConfig('http://site.test/'));
    const times = Array.from({ length: 150 }, (_, i) => ({ at: T0 + i * 60_000, ms: 40 + (i % 23) * 5 }));
    await recorder.save(times.map(({ at, ms }) => fineOutcome(id, at, ms)));
    await recorder.save([downOutcome(id, T0 + 30_000)]);
    await saveRollups(store.db, T0 + 2.4 * HOUR_MS);
    expect(await fetchRollupCursor(store.db)).toBe(T0 + 2 * HOUR_MS);
    const rollups = await fetchHours(store.db, id, T0, T0 + 9 * HOUR_MS);
    expect(rollups.map((r) => [r.hour, r.fine, r.failed])).toEqual([
      [T0, 60, 1],
      [T0 + HOUR_MS, 60, 0],
    ]);
    const raw = histogramOf(times.slice(0, 60).map((t) => t.ms));
    expect(quantileOf(rollups[0]!.times, 0.95)).toBe(quantileOf(raw, 0.95));
    // A second time changes nothing, and findings that were let go stay in the rollups.
    await deleteFindingsBefore(store.db, [id], T0 + 2 * HOUR_MS);
    await saveRollups(store.db, T0 + 2.9 * HOUR_MS);
    expect(await fetchHours(store.db, id, T0, T0 + 9 * HOUR_MS)).toEqual(rollups);
    expect((await fetchFindings(store.db, id, { limit: 1000 })).length).toBe(30);
  });

  it('pages findings backwards', async () => {
    const id = await makeWatch(store.db, webConfig('http://site.test/'));
    await recorder.save([1, 2, 3, 4].map((n) => fineOutcome(id, T0 + n)));
    const first = await fetchFindings(store.db, id, { limit: 2 });
    expect(first.map((f) => f.at - T0)).toEqual([4, 3]);
    const rest = await fetchFindings(store.db, id, { until: first.at(-1)!.at, limit: 2 });
    expect(rest.map((f) => f.at - T0)).toEqual([2, 1]);
  });

  it('holds later messages of a channel back while an earlier one waits for its next try', async () => {
    const channel = await makeRoom(store, {}, T0);
    const id = await makeWatch(store.db, webConfig('http://site.test/'), { createdAt: T0 });
    await recorder.save([downOutcome(id, T0 + 1000)]);
    await tellerOn(store.db, () => T0 + 1000).work();
    const event = { kind: 'steady' as const, since: T0 };
    await sayTo(store.db, { event, name: 'Tide table', channels: [channel], at: T0 + 2000 });
    const [first, ...others] = await fetchDueDeliveries(store.db, channel, T0 + 5000, 10);
    expect(others).toEqual([]);
    const attempt = { deliveryId: first!.id, at: T0 + 5000, ok: false, said: '503 busy' };
    await saveAttempts(store.db, [{ ...attempt, state: 'waiting', nextAt: T0 + 10_000 }]);
    expect(await fetchDueDeliveries(store.db, channel, T0 + 6000, 10)).toEqual([]);
    expect(await fetchNextDeliveryAt(store.db)).toBe(T0 + 10_000);
    expect(await fetchNextDeliveryAt(store.db, [channel])).toBeNull();
    const later = await fetchDueDeliveries(store.db, channel, T0 + 10_000, 10);
    expect(later.map((d) => [d.id, d.attempts])).toEqual([[first!.id, 1]]);
    await saveAttempts(store.db, [
      {
        ...attempt,
        ok: true,
        said: '200 received',
        state: 'delivered',
        nextAt: 0,
      },
    ]);
    expect(
      (await fetchDeliveries(store.db, { limit: 10 })).map((d) => [d.state, d.attempts, d.lastSaid]),
    ).toEqual([
      ['waiting', 0, null],
      ['delivered', 2, '200 received'],
    ]);
    const [outage] = await fetchOutages(store.db, { watchId: id });
    expect((await fetchTold(store.db, [outage!.id, outage!.id - 1])).size).toBe(1);
  });

  it('forgets the deliveries of a channel with it', async () => {
    const channel = await makeRoom(store, {}, T0);
    const id = await makeWatch(store.db, webConfig('http://site.test/'), { createdAt: T0 });
    await recorder.save([downOutcome(id, T0 + 1000)]);
    expect(await deleteChannel(store.db, channel)).toBe(true);
    expect(await deleteChannel(store.db, channel)).toBe(false);
    expect(await fetchDeliveries(store.db, { limit: 10 })).toEqual([]);
  });

  it('notes the time the front door was closed, until it was taken in', async () => {
    await saveOpening(store.db, T0);
    expect(await readIntakeGaps(store.db)).toEqual([]);
    await savePulse(store.db, T0 + 1000);
    await saveOpening(store.db, T0 + 9000);
    const gaps = await readIntakeGaps(store.db);
    expect(gaps).toEqual([{ from: T0 + 1000, to: T0 + 9000 }]);
    await savePulse(store.db, T0 + 10_000);
    await saveOpening(store.db, T0 + 20_000);
    await clearIntakeGaps(store.db, gaps);
    expect(await readIntakeGaps(store.db)).toEqual([{ from: T0 + 10_000, to: T0 + 20_000 }]);
  });

  it('notes a pulse long after the one before as time nobody was heard, and a clock set back as none', async () => {
    expect(await savePulse(store.db, T0)).toBe(false);
    expect(await savePulse(store.db, T0 + 10_000)).toBe(false);
    expect(await savePulse(store.db, T0 + 3_610_000)).toBe(true);
    expect(await savePulse(store.db, T0 + 20_000)).toBe(false);
    expect(await readIntakeGaps(store.db)).toEqual([{ from: T0 + 10_000, to: T0 + 3_610_000 }]);
  });

  it('closes an incident with its last update and opens it again with another', async () => {
    const pageId = await saveNewPage(store.db, pageContent([]));
    const id = await saveNewIncident(store.db, incidentFacts(pageId, 'Booking', T0, { body: 'a' }));
    const over = { at: T0 + 1000, stage: 'over' as const, body: 'b', ended: T0 + 1000 };
    await saveIncidentUpdate(store.db, id, over);
    expect(await fetchIncident(store.db, id)).toMatchObject({
      ended: T0 + 1000,
      updates: [
        { stage: 'over', body: 'b' },
        { stage: 'looking', body: 'a' },
      ],
    });
    expect(await fetchIncidents(store.db, { pageId }, { since: T0 + 1001, limit: 9 })).toEqual([]);
    await saveIncidentUpdate(store.db, id, { at: T0 + 2000, stage: 'watching', body: 'c', ended: 0 });
    expect((await fetchIncidents(store.db, { pageId }, { since: T0 + 5000, limit: 9 }))[0]!.ended).toBeNull();
  });

  it('lists windows that are not over, the earliest first', async () => {
    const window = { title: 'New mast', watchIds: [1] };
    await saveNewWindow(store.db, { ...window, begins: T0 + 50, ends: T0 + 60 });
    await saveNewWindow(store.db, { ...window, begins: T0 + 10, ends: T0 + 20 });
    expect((await fetchWindows(store.db, T0 + 15)).map((w) => w.begins - T0)).toEqual([10, 50]);
    expect((await fetchWindows(store.db, T0 + 20)).map((w) => w.begins - T0)).toEqual([50]);
  });
});
