import { connect, createServer, type Socket } from 'node:net';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import mqttLibrary, { type MqttClient } from 'mqtt';
import type { Engine } from '@/engine/engine';
import { PracticeBroker } from '@/standins/broker';
import { saveNewChannel } from '@/store/messages/channels';
import { engineOn } from '../engine-on';
import { freePort, makeWatch, tempStore, until, webConfig, type TempStore } from '../helpers';

describe('how watches stand, kept by a broker', () => {
  let store: TempStore;
  let broker: PracticeBroker;
  let engine: Engine;
  let house: MqttClient;
  /** What stands under each topic, as whoever subscribes now and goes on hears it. */
  let kept: Map<string, string>;
  let published: number;

  /** Somebody who comes now, and hears what is kept. */
  async function visit(): Promise<void> {
    await house?.endAsync(true);
    kept = new Map();
    published = 0;
    house = await mqttLibrary.connectAsync({ host: '127.0.0.1', port: broker.port, reconnectPeriod: 0 });
    house.on('message', (topic, payload) => {
      published += 1;
      if (payload.length === 0) kept.delete(topic);
      else kept.set(topic, payload.toString());
    });
    await house.subscribeAsync('crew-house/#');
  }
  const states = () =>
    Object.fromEntries(
      [...kept]
        .filter(([topic]) => topic.startsWith('crew-house/watches/'))
        .map(([topic, text]) => [
          Number(topic.split('/')[2]),
          JSON.parse(text) as { state: string; name: string },
        ]),
    );
  const connectBroker = (topic = 'crew-house', port = broker.port) =>
    saveNewChannel(store.db, {
      kind: 'mqtt',
      name: 'Crew house',
      settings: {
        host: '127.0.0.1',
        port,
        tls: false,
        user: '',
        password: '',
        topic,
        authority: '',
      },
      enabled: true,
      createdAt: Date.now(),
    });
  const tell = (watchIds: number[]) => engine.handlers.watchesChanged({ watchIds });

  beforeEach(async () => {
    store = await tempStore();
    broker = new PracticeBroker('broker', 'Broker', await freePort());
    await broker.start();
    await visit();
    engine = engineOn(store, {
      onError: (error) => {
        if (!String(error).includes('could not be left')) throw error;
      },
    });
  });
  afterEach(async () => {
    await engine.close();
    await house.endAsync(true);
    await broker.stop();
    await store.close();
  });

  it('is there from the start and follows, though no route asks for anything', async () => {
    const nowhere = `http://127.0.0.1:${await freePort()}/`;
    const site = await makeWatch(store.db, webConfig(nowhere), { name: 'Booking site' });
    const resting = await makeWatch(store.db, webConfig(nowhere), { name: 'Harbour camera' });
    await store.db('watches').where({ id: resting }).update({ paused: true });
    await connectBroker();
    await engine.start();
    await tell([resting]);
    await until(() => states()[site]?.state === 'down' && states()[resting]?.state === 'paused', 'states');
    expect(kept.get('crew-house/alive')).toBe('yes');
    expect(states()[site]).toEqual({
      state: 'down',
      wantsHand: false,
      name: 'Booking site',
      stateSinceAt: expect.stringMatching(/^\d{4}-.*Z$/) as string,
    });

    await store.db('watches').where({ id: site }).update({ name: 'Booking\nsite' });
    await store.db('watches').where({ id: resting }).update({ deleted_at: Date.now() });
    await tell([site, resting]);
    await until(
      () => states()[site]?.name === 'Booking site' || states()[site]?.name === 'Booking\\nsite',
      'name',
    );
    await until(() => states()[resting] === undefined, 'gone');
    expect(states()[site]!.name).not.toContain('\n');

    await visit();
    await until(() => states()[site]?.state === 'down', 'found by whoever comes later');
    // Looks that find what is known already are not told again.
    const before = published;
    await engine.handlers.lookNow({ watchId: site });
    await new Promise((resolve) => setTimeout(resolve, 400));
    expect(published).toBe(before);
    await engine.close();
    await until(() => kept.get('crew-house/alive') === 'no', 'said that nobody keeps them any more');
  });

  it('is left anew at a broker that forgot it, and at one that is connected later', async () => {
    const site = await makeWatch(store.db, webConfig(`http://127.0.0.1:${await freePort()}/`));
    await engine.start();
    await connectBroker();
    await engine.handlers.channelsChanged({});
    await until(() => states()[site]?.state === 'down', 'left');
    await broker.stop();
    await broker.start();
    await visit();
    expect(states()).toEqual({});
    await until(() => states()[site]?.state === 'down', 'left anew', 40_000);
    expect(kept.get('crew-house/alive')).toBe('yes');
  });

  it('is said by the broker to be kept by nobody, once whoever kept it is cut off', async () => {
    const sockets: Socket[] = [];
    const way = createServer((near) => {
      const far = connect(broker.port, '127.0.0.1');
      for (const socket of [near, far]) socket.on('error', () => undefined);
      sockets.push(near, far);
      near.pipe(far).pipe(near);
    });
    const port = await freePort();
    await new Promise<void>((resolve) => way.listen(port, '127.0.0.1', resolve));
    await makeWatch(store.db, webConfig(`http://127.0.0.1:${await freePort()}/`));
    await connectBroker('crew-house', port);
    await engine.start();
    await until(() => kept.get('crew-house/alive') === 'yes', 'there');
    way.close();
    for (const socket of sockets) socket.destroy();
    await until(() => kept.get('crew-house/alive') === 'no', 'said by the broker itself');
  });

  it('loses nothing while the broker is away', async () => {
    const site = await makeWatch(store.db, webConfig(`http://127.0.0.1:${await freePort()}/`));
    await connectBroker();
    await broker.stop();
    await engine.start();
    await until(async () => (await tell([site])).states[0] === 'down', 'down');
    await broker.start();
    await visit();
    await until(() => states()[site]?.state === 'down', 'left once it is back', 40_000);
  });
});
