import { createServer } from 'node:http';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { Engine } from '@/engine/engine';
import { type EngineOptions } from '@/engine/engine';
import type { EngineNews } from '@/engine/link/protocol';
import { fillDemo } from '@/demo/fill';
import { makeAuthority } from '@/standins/certificates';
import { Harbour } from '@/standins/harbour';
import { listen } from '@/standins/listener';
import { savePulse, saveOpening } from '@/store/history/intake-gaps';
import { fetchFindings } from '@/store/history/findings';
import { fetchDeliveries } from '@/store/messages/sent';
import { fetchOutages } from '@/store/history/outages';
import { saveReports } from '@/store/history/reports';
import { fetchStretches } from '@/store/history/stretches';
import { restoreWatches } from '@/store/watches/deleted-watches';
import { deleteWatches, fetchWatch, saveWatchesPaused } from '@/store/watches/watches';
import { saveNewWindow } from '@/store/maintenance/windows';
import { fetchHistory, lastDays } from '@/views/history/history';
import { makeWatch, periodConfig, tempStore, until, webConfig, type TempStore } from '../helpers';
import { engineOn, makeRoom } from '../engine-on';

const MINUTE = 60_000;

describe('the engine', () => {
  let store: TempStore;
  let harbour: Harbour;
  let engine: Engine | null = null;
  let news: EngineNews[] = [];
  /** How far the engine's clock is ahead of the real one. */
  let ahead = 0;
  const errors: unknown[] = [];

  beforeEach(async () => {
    store = await tempStore();
    harbour = await Harbour.start({ basePort: 0, authority: await makeAuthority(), jobs: [] });
    news = [];
    ahead = 0;
    errors.length = 0;
  });

  afterEach(async () => {
    await engine?.close();
    engine = null;
    await harbour.stop();
    await store.close();
    expect(errors).toEqual([]);
  });

  async function start(rest: Partial<EngineOptions> = {}): Promise<Engine> {
    engine = engineOn(store, {
      now: () => Date.now() + ahead,
      looksPerHost: 4,
      onNews: (n) => news.push(n) > 0,
      onError: (error) => errors.push(error),
      ...rest,
    });
    await engine.start();
    return engine;
  }

  const done = (watchId: number, at: number) =>
    saveReports(store.db, [
      { watchId, at, kind: 'done', code: 0, run: null, method: 'GET', address: '', output: null },
    ]);
  const address = (id: string) => harbour.find(id)!.address;
  const stateOf = async (id: number) => (await fetchWatch(store.db, id))!.status.state;
  const inState = (id: number, state: string) =>
    until(async () => (await stateOf(id)) === state, `watch ${id} ${state}`);

  async function crewRoom(): Promise<void> {
    await makeRoom(store, { address: `http://127.0.0.1:${harbour.port}/room/hook` });
  }

  it('takes the first look at once, and tells of it', async () => {
    const id = await makeWatch(store.db, webConfig(address('booking'), { every: 3600 }));
    await start();
    await inState(id, 'up');
    expect(await fetchFindings(store.db, id, { limit: 5 })).toHaveLength(1);
    expect(news.flatMap((n) => n.watches)).toContainEqual(expect.objectContaining({ id, state: 'up' }));
  });

  it('tells what comes and goes at once, and once, of jobs that are silent too', async () => {
    const id = await makeWatch(store.db, periodConfig(86_400, 3600));
    const { handlers } = await start();
    const told = async () => {
      news = [];
      await handlers.watchesChanged({ watchIds: [id] });
      return news.flatMap(({ watches }) => watches.map((one) => [one.id, one.state]));
    };
    expect(await told()).toEqual([]);
    await deleteWatches(store.db, [id], Date.now());
    expect(await told()).toEqual([[id, 'paused']]);
    expect(await told()).toEqual([]);
    await restoreWatches(store.db, [id]);
    expect(await told()).toEqual([[id, 'waiting']]);
  });

  it('looks at a new watch as soon as it is told of it', async () => {
    await start();
    const id = await makeWatch(store.db, webConfig(address('booking'), { every: 3600 }));
    expect(await engine!.handlers.watchesChanged({ watchIds: [id] })).toEqual({ states: ['waiting'] });
    await inState(id, 'up');
  });

  it('goes from up through doubtful to down and back, and tells the room each time', async () => {
    await crewRoom();
    const config = webConfig(address('booking'), { every: 3600, secondLooks: 1, secondLookGap: 1 });
    const id = await makeWatch(store.db, config);
    await start();
    await inState(id, 'up');
    await harbour.find('booking')!.setMode('status 500');
    expect(await engine!.handlers.lookNow({ watchId: id })).toMatchObject({
      verdict: 'failed',
      cause: 'reply.status',
    });
    expect(await stateOf(id)).toBe('doubtful');
    // The second look comes by itself, a second later, not at the end of the hour.
    await inState(id, 'down');
    await until(() => harbour.room.messages.length === 1, 'a message in the room');
    const [outage] = await fetchOutages(store.db, { watchId: id });
    expect(harbour.room.messages[0]!.text).toMatch(
      /^Booking site is down\nThe host answers ping and port \d+ is open; the server answers, but replies 500\.\nSince .*\nTry this: .*\nI have it: http:\/\/desk\.test\/take\/[\w.-]+\nhttp:\/\/desk\.test\/watches\/1$/,
    );
    expect(outage!.noticed - outage!.began).toBeGreaterThanOrEqual(1000);

    await harbour.find('booking')!.setMode('fine');
    await engine!.handlers.lookNow({ watchId: id });
    await until(() => harbour.room.messages.length === 2, 'a second message');
    const [ended] = await fetchOutages(store.db, { watchId: id });
    const seconds = Math.round((ended!.ended! - ended!.began) / 1000);
    expect(harbour.room.messages[1]!.text).toContain(
      `Booking site is up again\nIt was down for ${seconds} s,`,
    );
    await until(
      async () => (await fetchDeliveries(store.db, { limit: 9 })).every((d) => d.state === 'delivered'),
      'deliveries noted',
    );
    expect((await fetchDeliveries(store.db, { limit: 9 })).map((d) => d.lastSaid)).toEqual([
      '200 received',
      '200 received',
    ]);
  });

  it('tries a message again until the room takes it, in order, and gives up on a refusal', async () => {
    await crewRoom();
    harbour.room.mode = 'busy';
    const id = await makeWatch(store.db, webConfig(address('booking'), { every: 3600 }));
    await harbour.find('booking')!.setMode('stopped');
    await start();
    await inState(id, 'down');
    await until(
      async () => (await fetchDeliveries(store.db, { limit: 9 }))[0]?.attempts === 1,
      'a first try',
    );
    expect((await fetchDeliveries(store.db, { limit: 9 }))[0]).toMatchObject({
      state: 'waiting',
      lastSaid: '503 the room is busy',
    });
    await harbour.find('booking')!.setMode('fine');
    await engine!.handlers.lookNow({ watchId: id });
    harbour.room.mode = 'fine';
    await until(() => harbour.room.messages.length === 2, 'both messages');
    expect(harbour.room.messages.map((m) => m.text.split('\n')[0])).toEqual([
      'Booking site is down',
      'Booking site is up again',
    ]);

    harbour.room.mode = 'refusing';
    await harbour.find('booking')!.setMode('stopped');
    await engine!.handlers.lookNow({ watchId: id });
    await until(
      async () => (await fetchDeliveries(store.db, { limit: 9 }))[0]?.state === 'given-up',
      'given up',
    );
    expect((await fetchDeliveries(store.db, { limit: 9 }))[0]!.lastSaid).toBe('403 this hook was taken down');
  });

  it('sends what an earlier engine left behind', async () => {
    await crewRoom();
    harbour.room.mode = 'busy';
    const id = await makeWatch(
      store.db,
      webConfig(address('kiosk-north').replace(/^(\S+) port /, 'http://$1:'), { every: 3600 }),
    );
    await harbour.find('kiosk-north')!.setMode('stopped');
    await start();
    await inState(id, 'down');
    await until(
      async () => (await fetchDeliveries(store.db, { limit: 9 }))[0]?.attempts === 1,
      'a first try',
    );
    await engine!.close();
    harbour.room.mode = 'fine';
    ahead = MINUTE;
    await start();
    await until(() => harbour.room.messages.length === 1, 'the message');
  });

  it('calls nothing down for time it was away: that time is unobserved', async () => {
    const config = webConfig(address('booking'), { every: 60 });
    const id = await makeWatch(store.db, config, { createdAt: Date.now() - 1000 });
    await start();
    await inState(id, 'up');
    await engine!.close();
    const before = (await fetchWatch(store.db, id))!.status.lastAt!;
    ahead = 6 * 60 * MINUTE;
    await start();
    await until(
      async () => (await fetchWatch(store.db, id))!.status.lastAt! > before,
      'a look after the return',
    );
    expect(await stateOf(id)).toBe('up');
    expect(await fetchOutages(store.db, { watchId: id })).toEqual([]);
    const now = Date.now() + ahead;
    const stretches = (await fetchStretches(store.db, [id], 0, now)).get(id)!;
    const gap = stretches.find((s) => s.kind === 'unobserved')!;
    expect(gap.from).toBe(before + MINUTE);
    const history = await fetchHistory(store.db, [(await fetchWatch(store.db, id))!], 1, now);
    const { observedMs, uptime } = history.get(id)!.availability(lastDays(now, 1));
    expect(uptime).toBe(1);
    expect(observedMs).toBeLessThan(3 * MINUTE);
  });

  it('looks at every watch again and again: four at once towards one host, one at once for one watch', async () => {
    const busy = new Map<string, number>();
    let inFlight = 0;
    let most = 0;
    let mostForOne = 0;
    const server = createServer((request, response) => {
      const path = request.url!;
      busy.set(path, (busy.get(path) ?? 0) + 1);
      inFlight += 1;
      most = Math.max(most, inFlight);
      mostForOne = Math.max(mostForOne, busy.get(path)!);
      setTimeout(() => {
        busy.set(path, busy.get(path)! - 1);
        inFlight -= 1;
        response.end('ok');
      }, 20);
    });
    const port = await listen(server, 0);
    const ids = await Promise.all(
      Array.from({ length: 40 }, (_, i) =>
        makeWatch(store.db, webConfig(`http://127.0.0.1:${port}/${i}`, { every: 5 }), { name: `w${i}` }),
      ),
    );
    await start({ looksPerHost: 4 });
    await until(
      async () =>
        (await Promise.all(ids.map((id) => fetchFindings(store.db, id, { limit: 3 })))).every(
          (f) => f.length >= 2,
        ),
      'two looks each',
    );
    await engine!.close();
    server.close();
    expect(most).toBe(4);
    expect(mostForOne).toBe(1);
  });

  it('takes reports in, each once, across a restart', async () => {
    const id = await makeWatch(store.db, periodConfig(60, 10), { checkinKey: 'a'.repeat(32) });
    const report = { watchId: id, code: 0, method: 'POST', address: '127.0.0.1', output: null };
    await start();
    const at = Date.now();
    await saveReports(store.db, [{ ...report, at, kind: 'begun', run: 'r' }]);
    await engine!.handlers.inbox({});
    await engine!.close();
    await saveReports(store.db, [{ ...report, at: at + 2500, kind: 'done', run: 'r' }]);
    ahead = 3000;
    await start();
    await inState(id, 'up');
    expect(await fetchFindings(store.db, id, { limit: 9 })).toMatchObject([
      { at: at + 2500, ms: 2500, verdict: 'fine' },
    ]);
    await engine!.close();
    await start();
    expect(await fetchFindings(store.db, id, { limit: 9 })).toHaveLength(1);
  });

  it('notices a missed check-in while it runs', async () => {
    await crewRoom();
    const id = await makeWatch(store.db, periodConfig(60, 300), {
      name: 'Weather pull',
      checkinKey: 'b'.repeat(32),
    });
    await done(id, Date.now());
    await start();
    await inState(id, 'up');
    ahead = 65_000;
    await inState(id, 'overdue');
    ahead = 400_000;
    await inState(id, 'down');
    await until(() => harbour.room.messages.length === 1, 'a message');
    expect(harbour.room.messages[0]!.text).toMatch(
      /^Weather pull is down\nExpected by .*, but no check-in came\./,
    );
  });

  it('does not judge a check-in that was due while nobody could hear it', async () => {
    const now = Date.now();
    const id = await makeWatch(store.db, periodConfig(60, 10), { checkinKey: 'c'.repeat(32) });
    await done(id, now);
    await start();
    await inState(id, 'up');
    await savePulse(store.db, now + 5000);
    await engine!.close();
    // Two hours later everything comes back, and only then the job reports again.
    ahead = 120 * MINUTE;
    await saveOpening(store.db, now + ahead);
    await done(id, now + ahead + 20_000);
    ahead += 30_000;
    await start();
    expect(await stateOf(id)).toBe('up');
    expect(await fetchOutages(store.db, {})).toEqual([]);
    const stretches = (await fetchStretches(store.db, [id], 0, now + ahead)).get(id)!;
    expect(stretches).toContainEqual({ from: now + 5000, to: now + 120 * MINUTE, kind: 'unobserved' });
  });

  it('judges a check-in that was due while only the engine was away', async () => {
    const now = Date.now();
    const id = await makeWatch(store.db, periodConfig(60, 10), { checkinKey: 'd'.repeat(32) });
    await done(id, now);
    await start();
    await inState(id, 'up');
    await engine!.close();
    ahead = 10 * MINUTE;
    await start();
    await inState(id, 'down');
    expect((await fetchOutages(store.db, {}))[0]).toMatchObject({
      began: now + 70_000,
      cause: 'checkin.missed',
    });
  });

  it('rests during maintenance and looks again after it', async () => {
    const id = await makeWatch(store.db, webConfig(address('booking'), { every: 5 }));
    await start();
    await inState(id, 'up');
    const now = Date.now();
    await saveNewWindow(store.db, {
      title: 'New mast',
      watchIds: [id],
      begins: now - 1000,
      ends: now + 4000,
    });
    await engine!.handlers.windowsChanged({});
    expect(await stateOf(id)).toBe('maintenance');
    await harbour.find('booking')!.setMode('stopped');
    await engine!.handlers.lookNow({ watchId: id });
    expect(await stateOf(id)).toBe('maintenance');
    await inState(id, 'down');
    expect((await fetchOutages(store.db, {}))[0]!.began).toBeGreaterThanOrEqual(now + 4000);
  });

  it('stops looking at what is paused or deleted', async () => {
    const id = await makeWatch(store.db, webConfig(address('booking'), { every: 5 }));
    await start();
    await inState(id, 'up');
    await saveWatchesPaused(store.db, [id], true);
    expect(await engine!.handlers.watchesChanged({ watchIds: [id] })).toEqual({ states: ['paused'] });
    await saveWatchesPaused(store.db, [id], false);
    expect(await engine!.handlers.watchesChanged({ watchIds: [id] })).toEqual({ states: ['waiting'] });
    await inState(id, 'up');
    await deleteWatches(store.db, [id], Date.now());
    expect(await engine!.handlers.watchesChanged({ watchIds: [id] })).toEqual({ states: [null] });
    await expect(engine!.handlers.lookNow({ watchId: id })).rejects.toThrow('There is no watch 1.');
  });

  it('tries settings and channels that are not saved through the code that will run them', async () => {
    await start();
    const config = webConfig(address('booking'), {
      settings: { address: address('booking'), words: 'Choose your crossing', accepted: '200-299' },
    });
    expect(await engine!.handlers.tryLook({ kind: 'web', config })).toMatchObject({
      verdict: 'fine',
      evidence: { wordsFound: 1 },
    });
    expect(await engine!.handlers.tryLook({ kind: 'nonsense', config })).toMatchObject({
      cause: 'look.broken',
      detail: { reason: 'there is no kind of probe called "nonsense"' },
    });
    const hook = { address: `http://127.0.0.1:${harbour.port}/room/hook` };
    expect(await engine!.handlers.testChannel({ kind: 'webhook', settings: hook })).toEqual({
      ok: true,
      retry: false,
      said: '200 received',
    });
    expect(harbour.room.messages[0]!.text).toContain('A test from Calm Lantern');
    const nobody = { address: 'http://127.0.0.1:1/' };
    expect(await engine!.handlers.testChannel({ kind: 'webhook', settings: nobody })).toMatchObject({
      ok: false,
      retry: true,
    });
  });
});

describe('the demo', () => {
  it('fills ninety days through the core, with one open trouble, and the figures agree', async () => {
    const store = await tempStore();
    const now = Date.parse('2026-11-24T09:12:00Z');
    const names: string[] = [];
    await fillDemo({
      db: store.db,
      now,
      harbourPort: 4790,
      onProgress: (_, __, name) => names.push(name),
    });
    expect(names).toHaveLength(18);
    const open = (await fetchOutages(store.db, {})).filter((o) => o.ended === null);
    expect(open).toHaveLength(1);
    const booking = (await fetchWatch(store.db, open[0]!.watchId))!;
    expect(booking).toMatchObject({ name: 'Booking site', status: { state: 'down' } });
    const history = await fetchHistory(store.db, [booking], 90, now);
    const { downMs, observedMs, uptime } = history.get(booking.id)!.availability(lastDays(now, 90));
    expect(uptime).toBe(1 - downMs / observedMs);
    expect(downMs).toBeGreaterThan(35 * MINUTE);
    expect(downMs).toBeLessThan(60 * MINUTE);
    // What was told in the past was delivered, but to the one room that does not answer: nothing waits to flood others.
    const sent = await fetchDeliveries(store.db, { limit: 1000 });
    const waiting = sent.filter((d) => d.state === 'waiting');
    expect(new Set(waiting.map((d) => d.channel))).toEqual(new Set(['Harbour display']));
    expect(waiting.map((d) => d.title).sort()).toEqual(['Booking site is down', 'Ines has Booking site']);
    expect(new Set(sent.map((d) => d.channel)).size).toBeGreaterThanOrEqual(5);
    await store.close();
  });
});
