import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { Dispatcher } from '@/engine/messages/dispatcher';
import { fetchChannel, fetchChannels, saveChannelChange } from '@/store/messages/channels';
import { STAND_IN_AFTER_MS } from '@/store/messages/deliveries';
import { fetchDeliveries } from '@/store/messages/sent';
import { tempStore, type TempStore } from '../../integration/helpers';
import { sayTo } from '../../integration/say-to';
import { answeringRoom } from '../channels/answering';
import { connectRoom, dispatcherOn } from './dispatcher-on';

const T0 = Date.parse('2026-11-26T06:00:00Z');
const HOUR_MS = 3_600_000;

describe('a room that another stands in for', () => {
  const rooms = answeringRoom();
  let store: TempStore;
  let dispatcher: Dispatcher;
  let now: number;
  let crew: number;
  let office: number;
  /** What a room answers, by its name. */
  let status: Record<string, number>;

  beforeEach(async () => {
    store = await tempStore();
    now = T0;
    status = {};
    const room = (name: string) => connectRoom(store, rooms.base, name, T0);
    [crew, office] = [await room('Crew'), await room('Office')];
    await setFallback(crew, office);
    rooms.answer = ({ url }) => ({ status: status[url.slice(1)] ?? 200 });
    dispatcher = dispatcherOn(store, { now: () => now });
  });
  afterEach(async () => {
    await dispatcher.close(0);
    await store.close();
  });

  async function setFallback(id: number, fallbackId: number, enabled = true): Promise<void> {
    const channel = (await fetchChannel(store.db, id))!;
    await saveChannelChange(store.db, id, { ...channel, fallbackId, enabled });
  }
  const say = (name: string) =>
    sayTo(store.db, {
      event: { kind: 'new-checkin', section: 'Piers', address: '192.0.2.7' },
      name,
      channels: [crew],
      at: now,
    });
  const deliveries = () => fetchDeliveries(store.db, { limit: 100, ascending: true });
  const states = async () => (await deliveries()).map((one) => `${one.channel} ${one.state}`);
  /** The texts that reached a room. */
  const heard = (name: string) =>
    rooms.asked
      .filter(({ url }) => url === `/${name}` && (status[name] ?? 200) === 200)
      .map(({ body }) => (JSON.parse(body) as { text: string }).text);
  const becomes = (...expected: string[]) =>
    vi.waitFor(async () => expect((await states()).sort()).toEqual(expected), 5000);

  it('is told what was given up at once, with why it comes there', async () => {
    status.Crew = 404;
    await say('Tide table');
    dispatcher.wake();
    await becomes('Crew given-up', 'Office delivered');
    const [text] = heard('Office');
    expect(text).toContain('Tide table');
    expect(text).toContain('Crew took no message, so this comes here.');
    expect(await store.db('deliveries').orderBy('id').pluck('rule')).toEqual(['step', 'instead']);
  });

  it('is told once of what waits for ten minutes; the room itself is told when it is back', async () => {
    status.Crew = 503;
    await say('Tide table');
    await say('Booking site');
    dispatcher.wake();
    await vi.waitFor(async () => expect((await deliveries())[0]!.attempts).toBe(1));
    now += STAND_IN_AFTER_MS - 1;
    dispatcher.wake();
    await vi.waitFor(async () => expect((await deliveries())[0]!.attempts).toBe(2));
    expect(await states()).toEqual(['Crew waiting', 'Crew waiting']);
    now += HOUR_MS;
    dispatcher.wake();
    await becomes('Crew waiting', 'Crew waiting', 'Office delivered', 'Office delivered');
    now += HOUR_MS;
    status.Crew = 200;
    dispatcher.wake();
    await becomes('Crew delivered', 'Crew delivered', 'Office delivered', 'Office delivered');
    expect(heard('Office')).toHaveLength(2);
  });

  it('hears all that waits for one that is gone for good', async () => {
    status.Crew = 410;
    await say('Tide table');
    await say('Booking site');
    const hook = (await fetchChannel(store.db, crew))!;
    // The kind that takes 410 for its word.
    await store.db('channels').where({ id: crew }).update({ kind: 'event' });
    await saveChannelChange(store.db, crew, {
      ...hook,
      settings: { ...hook.settings, secret: `whsec_${Buffer.alloc(24).toString('base64')}` },
    });
    dispatcher.wake();
    await vi.waitFor(() => expect(heard('Office')).toHaveLength(2), 5000);
    expect((await fetchChannels(store.db)).map(({ enabled }) => enabled)).toEqual([false, true]);
  });

  it('is left alone while it rests', async () => {
    status.Crew = 404;
    await setFallback(office, crew, false);
    await say('Tide table');
    dispatcher.wake();
    await becomes('Crew given-up');
  });

  it('does not send in a circle what it does not take either', async () => {
    status = { Crew: 404, Office: 404 };
    await setFallback(office, crew);
    await say('Tide table');
    dispatcher.wake();
    await becomes('Crew given-up', 'Office given-up');
  });
});
