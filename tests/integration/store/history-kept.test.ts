import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { newStatus, type Report, type StatusEvent } from '@/core/lifecycle/status';
import { isDeskFailing, saveDeskFailing } from '@/store/history/desk-failing';
import { fetchFindings, fetchNewestFindingAt, fetchTimes, fetchValues } from '@/store/history/findings';
import {
  countOutages,
  fetchLastOutageEnd,
  fetchOpenOutagesOf,
  fetchOutage,
  fetchOutageNames,
  fetchOutages,
  fetchOutageSpans,
  fetchTold,
  saveLeftOut,
} from '@/store/history/outages';
import {
  fetchOpenOwnTroubles,
  fetchOwnTroubles,
  saveOwnTrouble,
  saveOwnTroubleOver,
} from '@/store/history/own-troubles';
import type { Happening } from '@/core/telling/telling';
import { fetchUntold } from '@/store/messages/happenings';
import { Recorder } from '@/store/history/recorder';
import { saveReports } from '@/store/history/reports';
import {
  fetchOpenUplinkLoss,
  fetchUplinkAddresses,
  fetchUplinkLosses,
  saveUplinkAddresses,
  saveUplinkBack,
  saveUplinkLost,
} from '@/store/history/uplink';
import { fetchWatchPast } from '@/store/history/watch-past';
import { deleteWatches } from '@/store/watches/watches';
import { makeWatch, periodConfig, tempStore, webConfig, type TempStore } from '../helpers';

const T0 = Date.parse('2026-11-20T08:00:00Z');
const MINUTE = 60_000;

let store: TempStore;
let recorder: Recorder;
beforeEach(async () => {
  store = await tempStore();
  recorder = new Recorder(store.db);
});
afterEach(() => store.close());

const site = (name: string) => makeWatch(store.db, webConfig('http://site.test/'), { name, createdAt: T0 });
const happen = (watchId: number, events: StatusEvent[]) =>
  recorder.save([{ watchId, status: newStatus(T0), events }]);

/** What may be told, as it was noted. */
async function noted() {
  const all = await fetchUntold(store.db, 100);
  return all.map(({ at, input }) => ({ at, ...(input as { happening: Happening }).happening }));
}

describe('outages', () => {
  const began = (at: number, follows?: number): StatusEvent[] => [
    { type: 'outage-began', began: at, noticed: at + 5, cause: 'port.refused', detail: { port: 80 } },
    ...(follows === undefined ? [] : [{ type: 'outage-follows' as const, of: follows }]),
  ];
  const over = (from: number, to: number): StatusEvent => ({ type: 'outage-ended', began: from, ended: to });

  /** One that is over, one that lasts, and one of a watch that is deleted. */
  async function three() {
    const [booking, kiosk, gone] = [await site('Booking site'), await site('Kiosk'), await site('Old site')];
    await happen(booking, [...began(T0), over(T0, T0 + MINUTE)]);
    await happen(kiosk, began(T0 + 2 * MINUTE));
    await happen(gone, [...began(T0 + MINUTE), over(T0 + MINUTE, T0 + 3 * MINUTE)]);
    await deleteWatches(store.db, [gone], T0 + 4 * MINUTE);
    return { booking, kiosk, gone };
  }

  it('are listed and counted by watch, over or not, and not of what was deleted', async () => {
    const { booking, kiosk } = await three();
    const of = async (filter: object) => (await fetchOutages(store.db, filter)).map((o) => o.watchId);
    expect(await of({})).toEqual([kiosk, booking]);
    expect(await of({ open: true })).toEqual([kiosk]);
    expect(await of({ open: false })).toEqual([booking]);
    expect(await of({ watchId: booking })).toEqual([booking]);
    expect(await countOutages(store.db)).toEqual({ all: 2, open: 1 });
    expect(await countOutages(store.db, booking)).toEqual({ all: 1, open: 0 });
    expect(await countOutages(store.db, kiosk)).toEqual({ all: 1, open: 1 });
    expect(await countOutages(store.db, 999)).toEqual({ all: 0, open: 0 });
  });

  it('tell when the last of them ended, of what is still watched', async () => {
    await three();
    expect(await fetchLastOutageEnd(store.db, T0)).toBe(T0 + MINUTE);
    expect(await fetchLastOutageEnd(store.db, T0 + MINUTE)).toBeNull();
  });

  it('are read by themselves, with their names, and as spans of many watches in order', async () => {
    const { booking, kiosk, gone } = await three();
    const [last, first] = await fetchOutages(store.db, {});
    expect(await fetchOutage(store.db, first!.id)).toEqual(first);
    const [, , hidden] = await store.db('outages').orderBy('id');
    expect(await fetchOutage(store.db, hidden!.id)).toBeNull();
    expect((await fetchOpenOutagesOf(store.db, [booking, kiosk])).map((o) => o.id)).toEqual([last!.id]);
    expect(await fetchOutageNames(store.db, [first!.id])).toEqual(
      new Map([[first!.id, { watchId: booking, watch: 'Booking site', began: T0 }]]),
    );
    const spans = async (since: number, until?: number) =>
      (await fetchOutageSpans(store.db, [booking, kiosk, gone], since, until)).map((s) => s.began - T0);
    expect(await spans(T0)).toEqual([2 * MINUTE, MINUTE, 0]);
    expect(await spans(T0 + MINUTE)).toEqual([2 * MINUTE, MINUTE]);
    expect(await spans(T0, T0 + 2 * MINUTE)).toEqual([MINUTE, 0]);
    // More watches than are asked for at once.
    const many = [kiosk, ...Array.from({ length: 2_000 }, (_, i) => 10_000 + i), booking];
    expect((await fetchOutageSpans(store.db, many, T0)).map((s) => s.watchId)).toEqual([kiosk, booking]);
    expect(await fetchTold(store.db, [first!.id])).toEqual(new Map());
  });

  it('know what they follow from, and whether they count', async () => {
    const [booking, router] = [await site('Booking site'), await site('Router')];
    await happen(booking, began(T0, router));
    const [outage] = await fetchOutages(store.db, {});
    expect(outage).toMatchObject({ follows: router, leftOut: null, evidence: null, detail: { port: 80 } });
    const again = { began: T0, noticed: T0 + 9, cause: 'port.refused', detail: { port: 80 } } as const;
    await happen(booking, [{ type: 'outage-announced', ...again }]);
    expect((await fetchOutage(store.db, outage!.id))?.follows).toBeNull();
    await saveLeftOut(store.db, outage!.id, 'We pulled the plug ourselves.', T0 + MINUTE);
    const leftOut = () => store.db('outages').first('left_out', 'left_out_at');
    expect(await leftOut()).toEqual({
      left_out: 'We pulled the plug ourselves.',
      left_out_at: T0 + MINUTE,
    });
    expect((await fetchOutageSpans(store.db, [booking], T0))[0]).toMatchObject({
      leftOut: 'We pulled the plug ourselves.',
      ended: null,
    });
    await saveLeftOut(store.db, outage!.id, null, T0 + 2 * MINUTE);
    expect(await leftOut()).toEqual({ left_out: null, left_out_at: null });
  });
});

describe('troubles of our own', () => {
  const stuck = { code: 'channel.stuck', subject: '4', detail: { name: 'Crew room', said: '500' } } as const;
  const event = { kind: 'own', code: 'channel.stuck', began: T0, ended: null } as const;

  it('are noted and told once, brought up to date while they last, and told to be over', async () => {
    expect(await saveOwnTrouble(store.db, { ...stuck, at: T0, told: true })).toBe(true);
    const later = { ...stuck, detail: { name: 'Crew room', said: '503' } };
    expect(await saveOwnTrouble(store.db, { ...later, at: T0 + 9, told: true })).toBe(false);
    const [open] = await fetchOpenOwnTroubles(store.db);
    expect(open).toMatchObject({ ...later, began: T0, ended: null });
    expect(await saveOwnTroubleOver(store.db, { ...stuck, subject: '5', at: T0 + 20 })).toBe(false);
    expect(await saveOwnTroubleOver(store.db, { ...stuck, at: T0 + 20 })).toBe(true);
    expect(await saveOwnTroubleOver(store.db, { ...stuck, at: T0 + 21 })).toBe(false);
    expect(await fetchOpenOwnTroubles(store.db)).toEqual([]);
    const thread = 'own channel.stuck 4';
    expect(await noted()).toEqual([
      { at: T0, thread, phase: 'opens', watch: null, event: { ...event, detail: stuck.detail } },
      {
        at: T0 + 20,
        thread,
        phase: 'closes',
        watch: null,
        event: { ...event, ended: T0 + 20, detail: stuck.detail },
      },
    ]);
  });

  it('may be noted and not told, are over where they were a moment, and never end before they began', async () => {
    await saveOwnTrouble(store.db, { ...stuck, at: T0, told: false });
    expect(await noted()).toEqual([]);
    // Another of the same kind, over as it is noted: it leaves alone what is open.
    const jump = { code: 'clock.jumped', detail: { by: '2 h' }, at: T0 + 5, ended: T0 + 5 } as const;
    expect(await saveOwnTrouble(store.db, { ...jump, told: true })).toBe(true);
    expect(await saveOwnTrouble(store.db, { ...jump, at: T0 + 6, ended: T0 + 6, told: true })).toBe(true);
    expect((await noted()).map(({ phase, thread }) => [phase, thread])).toEqual([
      ['once', 'own clock.jumped '],
      ['once', 'own clock.jumped '],
    ]);
    await saveOwnTroubleOver(store.db, { ...stuck, at: T0 - MINUTE });
    expect((await fetchOwnTroubles(store.db, 2)).map((t) => [t.code, t.began - T0])).toEqual([
      ['clock.jumped', 6],
      ['clock.jumped', 5],
    ]);
    expect((await fetchOwnTroubles(store.db, 9)).at(-1)).toMatchObject({ subject: '4', ended: T0 });
  });

  it('of the process that draws pages are known until they are over', async () => {
    expect(await isDeskFailing(store.db)).toBe(false);
    await saveDeskFailing(store.db, true);
    expect(await isDeskFailing(store.db)).toBe(true);
    await saveDeskFailing(store.db, false);
    expect(await isDeskFailing(store.db)).toBe(false);
  });
});

describe('the own line', () => {
  it('is tried by the addresses that were given', async () => {
    expect(await fetchUplinkAddresses(store.db)).toEqual([]);
    await saveUplinkAddresses(store.db, ['gateway.test', '192.0.2.1:53']);
    expect(await fetchUplinkAddresses(store.db)).toEqual(['gateway.test', '192.0.2.1:53']);
  });

  it('is noted lost and back, each once, with what may be told', async () => {
    await saveUplinkBack(store.db, T0);
    expect(await noted()).toEqual([]);
    expect(await fetchOpenUplinkLoss(store.db)).toBeNull();
    await saveUplinkLost(store.db, T0);
    expect(await fetchOpenUplinkLoss(store.db)).toEqual({ id: 1, began: T0, ended: null });
    await saveUplinkBack(store.db, T0 + MINUTE);
    await saveUplinkBack(store.db, T0 + 2 * MINUTE);
    await saveUplinkLost(store.db, T0 + 3 * MINUTE);
    expect(await fetchUplinkLosses(store.db, { limit: 9 })).toEqual([
      { id: 2, began: T0 + 3 * MINUTE, ended: null },
      { id: 1, began: T0, ended: T0 + MINUTE },
    ]);
    const line = (at: number, phase: string, from: number, ended: number | null) => ({
      at,
      thread: 'line',
      phase,
      watch: null,
      event: { kind: 'line', began: from, ended },
    });
    expect(await noted()).toEqual([
      line(T0, 'opens', T0, null),
      line(T0 + MINUTE, 'closes', T0, T0 + MINUTE),
      line(T0 + 3 * MINUTE, 'opens', T0 + 3 * MINUTE, null),
    ]);
    const since = await fetchUplinkLosses(store.db, { since: T0 + MINUTE, limit: 9 });
    expect(since.map(({ id }) => id)).toEqual([2]);
  });
});

describe('the past of one watch', () => {
  it('of looks is what was seen of it, with the time that does not count', async () => {
    const [booking, kiosk] = [await site('Booking site'), await site('Kiosk')];
    const refused = { verdict: 'failed', ms: 3, cause: 'port.refused', detail: { port: 80 } } as const;
    const look = (watchId: number, minute: number, rest: object = { verdict: 'fine', ms: 40 }) => ({
      watchId,
      status: newStatus(T0),
      events: [],
      finding: { at: T0 + minute * MINUTE, ...rest } as never,
    });
    await recorder.save([look(booking, 0), look(kiosk, 1), look(booking, 1, refused), look(booking, 5)]);
    await happen(booking, [
      { type: 'state', from: 'up', since: T0, to: 'paused', at: T0 + 2 * MINUTE },
      { type: 'state', from: 'paused', since: T0 + 2 * MINUTE, to: 'up', at: T0 + 4 * MINUTE },
    ]);
    const of = { watchId: booking, type: 'probe' as const, since: T0, until: T0 + 5 * MINUTE };
    expect(await fetchWatchPast(store.db, of)).toEqual({
      looks: [
        { at: T0, ms: 40, verdict: 'fine' },
        { at: T0 + MINUTE, ms: 3, verdict: 'failed', cause: 'port.refused', detail: {} },
      ],
      reports: [],
      aside: [{ from: T0 + 2 * MINUTE, to: T0 + 4 * MINUTE, kind: 'paused' }],
      from: T0,
      until: T0 + 5 * MINUTE,
    });
    const later = await fetchWatchPast(store.db, { ...of, since: T0 + 1, until: T0 + 6 * MINUTE });
    expect([later.from, later.looks.length]).toEqual([T0 + MINUTE, 2]);
    const nothing = await fetchWatchPast(store.db, { ...of, watchId: 99 });
    expect(nothing).toEqual({ looks: [], reports: [], aside: [], from: of.until, until: of.until });
  });

  it('of a job is what it reported', async () => {
    const id = await makeWatch(store.db, periodConfig(60, 10), { createdAt: T0 });
    const sent = (at: number, kind: Report['is'], rest: object = {}) => ({
      ...{ watchId: id, at, kind, code: null, run: null, took: null },
      ...{ method: 'GET', address: '127.0.0.1', output: null },
      ...rest,
    });
    await saveReports(store.db, [
      sent(T0, 'begun', { run: 'a' }),
      sent(T0 + MINUTE, 'failed', { run: 'a', code: 3 }),
    ]);
    const past = await fetchWatchPast(store.db, {
      watchId: id,
      type: 'checkin',
      since: T0,
      until: T0 + 2 * MINUTE,
    });
    expect(past.looks).toEqual([]);
    expect(past.reports).toEqual([
      { at: T0, is: 'begun', code: null, run: 'a', took: null },
      { at: T0 + MINUTE, is: 'failed', code: 3, run: 'a', took: null },
    ]);
    expect(past.from).toBe(T0);
  });
});

describe('findings', () => {
  it('tell times of what answered, what was read, and when the newest was made', async () => {
    expect(await fetchNewestFindingAt(store.db)).toBeNull();
    const id = await site('Booking site');
    const finding = (at: number, rest: object) => ({
      watchId: id,
      status: newStatus(T0),
      events: [],
      finding: { at, ...rest } as never,
    });
    const failed = { verdict: 'failed', ms: 3, cause: 'port.refused', detail: { port: 80 } };
    await recorder.save([
      finding(T0 + 2, { verdict: 'fine', ms: 20, evidence: { reading: { value: 7 } } }),
      finding(T0 + 1, { verdict: 'fine', ms: 10 }),
      finding(T0 + 3, failed),
    ]);
    expect(await fetchTimes(store.db, id, T0, T0 + 9)).toEqual([
      { at: T0 + 1, ms: 10 },
      { at: T0 + 2, ms: 20 },
    ]);
    expect(await fetchValues(store.db, id, T0, T0 + 9)).toEqual([{ at: T0 + 2, value: 7 }]);
    expect(await fetchNewestFindingAt(store.db)).toBe(T0 + 3);
    expect((await fetchFindings(store.db, id, { limit: 1 }))[0]).toMatchObject({
      verdict: 'failed',
      ms: 3,
      cause: 'port.refused',
      detail: { port: 80 },
    });
  });
});
