import { once } from 'node:events';
import { createServer, type AddressInfo } from 'node:net';
import { beforeAll, describe, expect, it } from 'vitest';
import { openStore } from '@/store/db/open';
import { withinProcess, type Within } from '../within';

const MIN = 60_000;
const HOUR = 60 * MIN;
const DAY = 24 * HOUR;

interface Tried {
  messages: number;
  atNight: number;
  outages: number;
  unheard: number;
  inMaintenance: number;
  channels: { channelId: number; messages: number }[];
}

interface Trial {
  now: Tried;
  then: Tried;
  unheard: { outageId: number; watch: string; why: string }[];
}

describe('a route that is tried on the past', () => {
  let product: Within;
  let crew: number;
  let [tide, kiosk] = [0, 0];
  withinProcess((started) => (product = started));
  const api = (method: string, path: string, body?: unknown) => product.api(method, path, body);
  const idOf = async (path: string, body: object) =>
    ((await api('POST', path, body)).body as { id: number }).id;
  const tried = async (body: object) => {
    const answer = await api('POST', '/route-trials', { name: 'Tried', ...body });
    expect(answer.status).toBe(200);
    return answer.body as Trial;
  };

  beforeAll(async () => {
    crew = await idOf('/channels', {
      kind: 'webhook',
      name: 'Crew room',
      settings: { address: 'http://127.0.0.1:9/crew' },
    });
    const schedule = { type: 'period', everySeconds: 86_400 };
    tide = await idOf('/watches', { kind: 'checkin', name: 'Tide table', schedule });
    kiosk = await idOf('/watches', { kind: 'checkin', name: 'Kiosk', schedule });
    const db = await openStore(product.folder, { migrate: false });
    const now = Date.now();
    const outage = (watch: number, daysAgo: number, minutes: number) => {
      const began = now - daysAgo * DAY;
      const cause = 'checkin.missed';
      return {
        watch_id: watch,
        began,
        noticed: began,
        ended: began + minutes * MIN,
        cause,
        causes: '[]',
        detail: '{}',
      };
    };
    const rows = [outage(tide, 100, 60), outage(tide, 30, 60), outage(tide, 20, 2), outage(kiosk, 10, 60)];
    await db.batchInsert('outages', rows as never);
    await db('stretches').insert({
      watch_id: kiosk,
      kind: 'maintenance',
      began: now - 11 * DAY,
      ended: now - 9 * DAY,
    });
    await db.destroy();
  });

  it('says what the outages of 90 days would have made, as routes are now and with it', async () => {
    const { now, then, unheard } = await tried({ steps: [{ after: 300, channels: [crew] }] });
    expect(now).toMatchObject({ messages: 4, outages: 2, unheard: 0, inMaintenance: 1 });
    // It comes beside the route there is, by which the room hears at once.
    expect(then).toMatchObject({ messages: 4, unheard: 0 });
    expect(unheard).toEqual([]);
  });

  it('takes the place of the one it changes', async () => {
    const [route] = (await api('GET', '/routes')).body as { id: number }[];
    const { then, unheard } = await tried({
      routeId: route!.id,
      steps: [{ after: 300, channels: [crew] }],
    });
    expect(then).toMatchObject({ messages: 2, unheard: 1, channels: [{ channelId: crew, messages: 2 }] });
    expect(unheard).toEqual([
      expect.objectContaining({ watch: 'Tide table', why: 'it was over before the step’s time had come' }),
    ]);
    const off = await tried({ routeId: route!.id, enabled: false, steps: [{ after: 0, channels: [crew] }] });
    expect(off.then).toMatchObject({ messages: 0, unheard: 2 });
    expect(off.unheard.map(({ why }) => why)).toEqual(['no route is about it', 'no route is about it']);
  });

  it('changes nothing and tells nobody', async () => {
    expect((await api('GET', '/deliveries')).body).toEqual([]);
    expect((await api('GET', '/routes')).body).toHaveLength(1);
  });

  it('folds what likely had one cause, as it would be told', async () => {
    const answering = createServer((socket) => socket.destroy()).listen(0, '127.0.0.1');
    await once(answering, 'listening');
    const { port } = answering.address() as AddressInfo;
    const before = (await tried({ steps: [{ after: 0, channels: [] }] })).now.messages;
    const db = await openStore(product.folder, { migrate: false });
    const began = Date.now() - 5 * DAY;
    for (const [i, name] of ['Booking site', 'Crew rota', 'Harbour camera'].entries()) {
      const watch = await idOf('/watches', { kind: 'port', name, settings: { host: '127.0.0.1', port } });
      await db('outages').insert({
        watch_id: watch,
        began: began + i * 2000,
        noticed: began + i * 2000,
        ended: began + HOUR + i * DAY,
        cause: 'port.refused',
        causes: '[]',
        detail: '{}',
        evidence: JSON.stringify({ address: '127.0.0.1' }),
      } as never);
    }
    await db.destroy();
    const { now } = await tried({ steps: [{ after: 0, channels: [] }] });
    answering.close();
    // The first at once, the two others in one, and each by itself that it is over.
    expect(now.messages - before).toBe(2 + 3);
    expect(now.unheard).toBe(0);
  });

  it.each([
    [{ steps: [] }, 'steps'],
    [{ steps: [{ after: 0, channels: [999] }] }, 'steps[0].channels'],
    [{ routeId: 'x', steps: [{ after: 0, channels: [] }] }, 'routeId'],
    [{ steps: [{ after: 0, channels: [] }], colour: 'red' }, 'colour'],
  ])('is refused where it is none: %j', async (body, field) => {
    const answer = await api('POST', '/route-trials', { name: 'Tried', ...body });
    expect(answer.status).toBe(422);
    expect((answer.body as { errors: { field: string }[] }).errors[0]!.field).toBe(field);
  });
});
