import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { MessageEvent } from '@/core/messages/message';
import { factsOf } from '@/core/telling/happen';
import { transaction } from '@/store/db/connection';
import { fetchDeliveries } from '@/store/messages/sent';
import { saveHappening } from '@/store/messages/happenings';
import { fetchRoutes, saveRouteChange } from '@/store/messages/routes';
import { fetchTelling } from '@/store/messages/telling';
import { deleteChannel, saveChannelChange } from '@/store/messages/channels';
import { makeRoom, tellerOn } from '../engine-on';
import { tempStore, type TempStore } from '../helpers';

const T0 = Date.parse('2026-11-26T08:00:00Z');
const MINUTE = 60_000;

describe('what happened, on its way through the routes', () => {
  let store: TempStore;
  let channel: number;
  let now: number;

  beforeEach(async () => {
    store = await tempStore();
    channel = await makeRoom(store, {}, T0);
    now = T0;
  });
  afterEach(() => store.close());

  const watch = (id: number) => factsOf({ id, name: `Kiosk ${id}`, kind: 'web', section: null, tags: [] });
  const happen = (id: number, phase: 'opens' | 'closes', at = now) => {
    const event: MessageEvent =
      phase === 'opens'
        ? { kind: 'down', began: at, noticed: at, cause: 'port.refused', detail: {} }
        : { kind: 'recovered', began: T0, ended: at };
    return transaction(store.db, (trx) =>
      saveHappening(trx, { thread: `w${id}`, phase, watch: watch(id), event, outageId: id }, at),
    );
  };
  const teller = (onError?: (error: unknown) => void) => tellerOn(store.db, () => now, onError);
  const said = async () =>
    (await fetchDeliveries(store.db, { limit: 10_000, ascending: true })).map(({ title }) => title);
  const changeRoute = async (change: object) => {
    const [{ id, ...route }] = (await fetchRoutes(store.db)) as [Awaited<ReturnType<typeof fetchRoutes>>[0]];
    await saveRouteChange(store.db, id, { ...route, ...change });
  };

  it('is told once, and its end after a start anew', async () => {
    await happen(1, 'opens');
    await teller().work();
    await teller().work();
    expect(await said()).toEqual(['Kiosk 1 is down']);
    now += MINUTE;
    await happen(1, 'closes');
    await teller().work();
    expect(await said()).toEqual(['Kiosk 1 is down', 'Kiosk 1 is up again']);
  });

  it('names the route and the rule, and the outage it was about', async () => {
    await happen(7, 'opens');
    await teller().work();
    const [delivery] = await store.db('deliveries');
    const [route] = await fetchRoutes(store.db);
    expect(delivery).toMatchObject({ channel_id: channel, route_id: route!.id, rule: 'step' });
    expect(await store.db('message_outages')).toEqual([{ message_id: delivery!.message_id, outage_id: 7 }]);
  });

  it('goes by a route as it is when it is told', async () => {
    const one = teller();
    await one.work();
    await changeRoute({ enabled: false });
    await happen(1, 'opens');
    await one.changed();
    expect(await said()).toEqual([]);
    expect(await store.db('telling_notes').pluck('rule')).toEqual(['no-route']);
  });

  it('is not told to a channel that rests', async () => {
    await saveChannelChange(store.db, channel, { name: 'Crew room', settings: {}, enabled: false });
    await happen(1, 'opens');
    await teller().work();
    expect(await store.db('deliveries')).toEqual([]);
    expect(await store.db('telling_notes').pluck('rule')).toEqual(['channel-off']);
  });

  it('goes on for the others where a channel was disconnected that had heard of it', async () => {
    await changeRoute({ steps: [{ after: 0, channels: [channel] }], again: 60 });
    const one = teller();
    await happen(1, 'opens');
    await one.work();
    await deleteChannel(store.db, channel);
    const other = await makeRoom(store, {}, T0);
    await changeRoute({ steps: [{ after: 0, channels: [other] }], again: 60 });
    now += MINUTE;
    await happen(2, 'opens');
    await one.changed();
    expect(await said()).toEqual(['Kiosk 2 is down']);
    await one.close();
  });

  it('goes by what is kept where a channel was disconnected without a word', async () => {
    const errors: unknown[] = [];
    const one = teller((error) => errors.push(error));
    await one.work();
    await deleteChannel(store.db, channel);
    await happen(1, 'opens');
    await one.work();
    expect(errors.map(String)).toEqual([expect.stringContaining('FOREIGN KEY')]);
    await one.work();
    expect(await store.db('telling_notes').pluck('rule')).toEqual(['channel-off']);
    await one.close();
  });

  it('goes on to the next step by itself, also after a start anew', async () => {
    await changeRoute({ steps: [{ after: 60, channels: [channel] }], again: 120 });
    await happen(1, 'opens');
    await teller().work();
    expect(await said()).toEqual([]);
    now += MINUTE;
    await teller().work();
    expect(await said()).toEqual(['Kiosk 1 is down']);
    now += 2 * MINUTE;
    await teller().work();
    expect(await said()).toEqual(['Kiosk 1 is down', 'Kiosk 1 is still down']);
  });

  it('is folded where it is much, and nothing of it is lost over many starts', async () => {
    for (let id = 1; id <= 1200; id += 1) await happen(id, 'opens');
    await teller().work();
    now += MINUTE;
    await teller().work();
    expect(await said()).toEqual([
      ...[1, 2, 3, 4, 5].map((id) => `Kiosk ${id} is down`),
      '1195 more are down',
    ]);
    expect(await store.db('message_outages').count({ n: '*' })).toEqual([{ n: 1200 }]);
    expect(await store.db('happenings').whereNull('told_at')).toEqual([]);
    // What may have more that belongs to it is remembered a little longer.
    now += 6 * MINUTE;
    await teller().work();
    const { threads, rooms } = await fetchTelling(store.db);
    expect([threads.size, rooms.size]).toEqual([1200, 0]);
  });

  it('is told from what was kept where a write failed, once and in order', async () => {
    const errors: unknown[] = [];
    const one = teller((error) => errors.push(error));
    await one.work();
    await store.db.raw(
      `CREATE TRIGGER no BEFORE INSERT ON deliveries WHEN (SELECT value FROM settings WHERE key = 'sick') = 'yes'
       BEGIN SELECT RAISE(ABORT, 'the disk is sick'); END`,
    );
    await store.db('settings').insert({ key: 'sick', value: 'yes' });
    await happen(1, 'opens');
    await one.work();
    await one.work();
    // Said once a minute, however often it fails.
    expect(errors.map(String)).toEqual([expect.stringContaining('the disk is sick')]);
    expect(await store.db('telling')).toEqual([]);
    await store.db('settings').where({ key: 'sick' }).update({ value: 'no' });
    await happen(1, 'closes');
    await one.close();
    expect(await said()).toEqual(['Kiosk 1 is down', 'Kiosk 1 is up again']);
  });

  it('that cannot be told is left out and said, and holds up nothing', async () => {
    const errors: unknown[] = [];
    await store.db('happenings').insert([
      { at: now, thread: 'w8', happening: '{broken' },
      { at: now, thread: 'w9', happening: JSON.stringify({ type: 'happened', happening: null }) },
    ]);
    await happen(1, 'opens');
    await teller((error) => errors.push(error)).work();
    expect(await said()).toEqual(['Kiosk 1 is down']);
    expect(errors).toHaveLength(2);
    expect(await store.db('happenings').whereNull('told_at')).toEqual([]);
  });

  it('is not kept back by what a clock that was ahead has written', async () => {
    await changeRoute({ steps: [{ after: 0, channels: [channel] }], again: 600 });
    now += 365 * 24 * 60 * MINUTE;
    for (let id = 1; id <= 7; id += 1) await happen(id, 'opens');
    await teller().work();
    now = T0;
    const anew = teller();
    await anew.work();
    for (const id of [20, 21]) await happen(id, 'opens');
    now += MINUTE;
    await anew.work();
    // The rest of that burst, and what came since.
    const since = ['Two more are down', 'Kiosk 20 is down', 'Kiosk 21 is down'];
    expect(await said()).toEqual(expect.arrayContaining(since));
    now += 10 * MINUTE;
    await anew.work();
    expect((await said()).filter((title) => title === 'Kiosk 1 is still down')).toHaveLength(1);
    await anew.close();
  });

  it('waits as long as it would have where the clock is set', async () => {
    await changeRoute({ steps: [{ after: 600, channels: [channel] }] });
    await happen(1, 'opens');
    const one = teller();
    await one.work();
    now -= 60 * MINUTE;
    await one.clockJumped(-60 * MINUTE);
    now += 9 * MINUTE;
    await one.work();
    expect(await said()).toEqual([]);
    now += MINUTE;
    await one.work();
    expect(await said()).toEqual(['Kiosk 1 is down']);
    await one.close();
  });

  it('of the own line says the whole in one where it did not get through before', async () => {
    const line = (phase: 'opens' | 'closes', ended: number | null) =>
      transaction(store.db, (trx) =>
        saveHappening(
          trx,
          { thread: 'line', phase, watch: null, event: { kind: 'line', began: T0, ended } },
          now,
        ),
      );
    await line('opens', null);
    await teller().work();
    expect(await said()).toEqual(['Calm Lantern cannot reach out']);
    now += MINUTE;
    await line('closes', now);
    await teller().work();
    expect(await said()).toEqual(['Calm Lantern can reach out again']);
  });
});
