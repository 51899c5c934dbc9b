import { createServer as createHttpServer } from 'node:http';
import { createServer } from 'node:net';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { Engine } from '@/engine/engine';
import { probeKind } from '@/probes/kinds/registry';
import { makeAuthority } from '@/standins/certificates';
import { Harbour } from '@/standins/harbour';
import { listen, trackSockets } from '@/standins/listener';
import { fetchEvidence } from '@/store/history/evidence';
import { fetchUplinkLosses, saveUplinkAddresses } from '@/store/history/uplink';
import { fetchOutages } from '@/store/history/outages';
import { fetchStretches } from '@/store/history/stretches';
import { fetchWatch, saveNewWatch } from '@/store/watches/watches';
import { freePort, probeConfig, tempStore, until, type TempStore } from '../helpers';
import { engineOn, makeRoom } from '../engine-on';

describe('why it broke, in the engine', () => {
  let store: TempStore;
  let harbour: Harbour;
  let engine: Engine;
  const errors: unknown[] = [];

  beforeEach(async () => {
    store = await tempStore();
    harbour = await Harbour.start({ basePort: 0, authority: await makeAuthority(), jobs: [] });
    errors.length = 0;
    await makeRoom(store, { address: `http://127.0.0.1:${harbour.port}/room/hook` });
    engine = engineOn(store, { onError: (error) => errors.push(error) });
  });

  afterEach(async () => {
    await engine.close();
    await harbour.stop();
    await store.close();
    expect(errors).toEqual([]);
  });

  const portOf = (id: string) => Number(/(\d+)\/?$/.exec(harbour.find(id)!.address)![1]);

  async function make(kind: string, name: string, settings: object, rest: object = {}): Promise<number> {
    return saveNewWatch(store.db, {
      kind,
      name,
      section: null,
      config: probeConfig({ ...probeKind(kind)!.defaults, ...settings }, { every: 3600, ...rest }),
      checkinKey: null,
      createdAt: Date.now(),
    });
  }

  const stateOf = async (id: number) => (await fetchWatch(store.db, id))!.status.state;
  const inState = (id: number, state: string) =>
    until(async () => (await stateOf(id)) === state, `watch ${id} ${state}`);
  const lookNow = (id: number) => engine.handlers.lookNow({ watchId: id });
  const titles = () => harbour.room.messages.map((m) => m.text.split('\n')[0]);
  const told = (count: number) =>
    until(() => titles().length === count, `${count} messages, got ${titles().join()}`);

  it('walks the ladder at the first failure and keeps it with evidence, for the outage and the message', async () => {
    const id = await make('web', 'Booking', {
      address: harbour.find('booking')!.address,
      secretHeaders: 'X-Key: hush-hush',
    });
    await engine.start();
    await inState(id, 'up');
    await harbour.find('booking')!.setMode('status 500');
    await lookNow(id);
    await told(1);
    const [outage] = await fetchOutages(store.db, { watchId: id });
    const port = portOf('booking');
    expect(outage!.evidence!.walk!.map((rung) => [rung.rung, rung.result])).toEqual([
      ['name', 'fine'],
      ['host', 'fine'],
      ['port', 'fine'],
      ['reply', 'failed'],
    ]);
    expect(outage!.evidence!.excerpt!.statusLine).toBe('HTTP/1.1 500 Internal Server Error');
    expect(harbour.room.messages[0]!.text).toContain(
      `The host answers ping and port ${port} is open; the server answers, but replies 500.`,
    );

    // The same cause again is no news; another one is.
    await lookNow(id);
    await harbour.find('booking')!.setMode('stopped');
    await lookNow(id);
    const kept = await fetchEvidence(store.db, id, { limit: 9 });
    expect(kept.map((k) => k.cause)).toEqual(['port.refused', 'reply.status']);
    expect(kept[0]!.evidence.walk!.find((rung) => rung.rung === 'port')).toMatchObject({ result: 'failed' });
  });

  it('walks it at what is news, and not at every failed look', async () => {
    let connections = 0;
    const server = createHttpServer((_, response) => response.writeHead(500).end());
    server.on('connection', () => (connections += 1));
    const port = await listen(server, 0);
    try {
      const id = await make('web', 'Tide tables', { address: `http://127.0.0.1:${port}/` });
      await engine.start();
      await inState(id, 'down');
      expect(connections).toBeGreaterThan(1);
      connections = 0;
      await lookNow(id);
      expect(connections).toBe(1);
    } finally {
      server.close();
    }
  });

  it('keeps quiet about what rests on something that is down, and looks at it again when that is back', async () => {
    const router = await make('port', 'Router', { host: '127.0.0.1', port: portOf('kiosk-north') });
    const site = await make(
      'web',
      'Booking',
      { address: harbour.find('booking')!.address },
      { restsOn: [router] },
    );
    await engine.start();
    await inState(router, 'up');
    await inState(site, 'up');
    await harbour.find('kiosk-north')!.setMode('stopped');
    await harbour.find('booking')!.setMode('stopped');
    // Only the site is looked at: the router is asked because of it.
    await lookNow(site);
    await inState(router, 'down');
    await lookNow(site);
    await inState(site, 'down');
    await told(1);
    expect(titles()).toEqual(['Router is down']);
    const [outage] = await fetchOutages(store.db, { watchId: site });
    expect(outage!.follows).toBe(router);

    await harbour.find('booking')!.setMode('fine');
    await harbour.find('kiosk-north')!.setMode('fine');
    await lookNow(router);
    await inState(site, 'up');
    await told(2);
    expect(titles()).toEqual(['Router is down', 'Router is up again']);
  });

  it('puts combined watches together anew as soon as one of their parts changes', async () => {
    const a = await make('port', 'North', { host: '127.0.0.1', port: portOf('kiosk-north') });
    const b = await make('port', 'South', { host: '127.0.0.1', port: portOf('kiosk-south') });
    const both = await make('combined', 'Kiosks', { parts: [a, b], rule: 'any' });
    await engine.start();
    await inState(both, 'up');
    await harbour.find('kiosk-north')!.setMode('stopped');
    await lookNow(a);
    await harbour.find('kiosk-south')!.setMode('stopped');
    expect(await stateOf(both)).toBe('up');
    await lookNow(b);
    await inState(both, 'down');
    const [outage] = await fetchOutages(store.db, { watchId: both });
    expect(outage!.detail).toMatchObject({ down: 2, all: 2, names: 'North, South' });
  });

  it('concludes nothing while its own line is lost, says so once, and looks again afterwards', async () => {
    const gatewayPort = await freePort();
    const gateway = createServer((socket) => void socket.end());
    const stop = trackSockets(gateway);
    await listen(gateway, gatewayPort);
    await saveUplinkAddresses(store.db, [`127.0.0.1:${gatewayPort}`]);
    const id = await make('web', 'Booking', { address: harbour.find('booking')!.address });
    await engine.start();
    await inState(id, 'up');

    // A refusal would prove the way open, so the gateway is taken away by a name that leads nowhere.
    await saveUplinkAddresses(store.db, ['nowhere.invalid:80']);
    await harbour.find('booking')!.setMode('stopped');
    expect(await engine.handlers.uplinkChanged({})).toEqual({ out: true });
    expect(await lookNow(id)).toMatchObject({ verdict: 'failed', cause: 'look.no-line' });
    expect(await stateOf(id)).toBe('up');
    await told(1);
    expect(titles()).toEqual(['Calm Lantern cannot reach out']);

    await harbour.find('booking')!.setMode('fine');
    await saveUplinkAddresses(store.db, [`127.0.0.1:${gatewayPort}`]);
    expect(await engine.handlers.uplinkChanged({})).toEqual({ out: false });
    await until(async () => {
      const kinds = (await fetchStretches(store.db, [id], 0, Date.now())).get(id)!.map((s) => s.kind);
      return kinds.includes('unobserved');
    }, 'time that stands as not observed');
    expect(await fetchOutages(store.db, { watchId: id })).toEqual([]);
    const [loss] = await fetchUplinkLosses(store.db, { limit: 5 });
    expect(loss!.ended).toBeGreaterThanOrEqual(loss!.began);
    await told(2);
    await new Promise((resolve) => setTimeout(resolve, 300));
    expect(titles()).toEqual(['Calm Lantern cannot reach out', 'Calm Lantern can reach out again']);
    await stop();
  });

  it('warns once of a reading over its limit, without calling it down', async () => {
    const address = `${harbour.find('counter')!.address}queue`;
    const id = await make('reading', 'Queue', {
      source: 'json',
      address,
      path: '$.waiting',
      what: 'The queue',
      warnHigh: 50,
      unit: 'people',
    });
    await engine.start();
    await inState(id, 'up');
    await harbour.find('counter')!.setMode('long queue');
    await lookNow(id);
    await lookNow(id);
    await inState(id, 'slow');
    await told(1);
    expect(harbour.room.messages[0]!.text).toMatch(
      /^Queue wants a hand\nThe queue is 180 people, over 50 people, and may soon be too high\./,
    );
    expect(await fetchOutages(store.db, { watchId: id })).toEqual([]);
  });
});
