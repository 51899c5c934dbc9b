import { beforeAll, describe, expect, it } from 'vitest';
import { AnsweringRoom } from '../../unit/channels/answering';
import { until } from '../helpers';
import { withinProcess, type Within } from '../within';

describe('who hears of one watch', () => {
  let product: Within;
  const room = new AnsweringRoom();
  withinProcess((started) => (product = started));
  const api = (method: string, path: string, body?: unknown) => product.api(method, path, body);
  const heard = (name: string) => room.asked.filter(({ url }) => url === `/${name}`).map(({ body }) => body);
  const make = async (name: string, change: object) => {
    const settings = { host: '127.0.0.1', port: 1 };
    return api('POST', '/watches', { kind: 'port', name, settings, secondLooks: 0, ...change });
  };
  let [crew, phone] = [0, 0];

  beforeAll(async () => {
    await room.start();
    const connect = async (name: string) => {
      const settings = { address: `${room.base}/${name}` };
      return ((await api('POST', '/channels', { kind: 'webhook', name, settings })).body as { id: number })
        .id;
    };
    [crew, phone] = [await connect('crew'), await connect('phone')];
    const [route] = (await api('GET', '/routes')).body as { id: number }[];
    await api('PATCH', `/routes/${route!.id}`, { steps: [{ after: 0, channels: [crew] }] });
    return () => room.stop();
  });

  it('is said in its settings, and in words', async () => {
    const besides = await make('Kiosk', { tells: 'besides', tellsTo: [phone] });
    expect(besides.body).toMatchObject({ tells: 'besides', tellsTo: [phone], sources: { tells: 'watch' } });
    const { id } = besides.body as { id: number };
    expect((await api('GET', `/watches/${id}/foretold`)).body).toMatchObject({
      sentence: 'crew at once; phone at once.',
    });
    await until(() => heard('crew').length === 1 && heard('phone').length === 1, 'both heard');
  });

  it('is nobody, by a section, and that is called out', async () => {
    await api('POST', '/sections', { name: 'Crew house' });
    const shared = { level: 'section', section: 'Crew house', tells: 'nobody' };
    expect((await api('PATCH', '/shared-settings', shared)).status).toBe(200);
    const made = await make('Door bell', { section: 'Crew house' });
    const { id } = made.body as { id: number };
    expect(made.body).toMatchObject({ tells: 'nobody', sources: { tells: 'section' } });
    await until(async () => ((await api('GET', '/outages?limit=5')).body as unknown[]).length === 2, 'down');
    expect((await api('GET', `/watches/${id}/foretold`)).body).toMatchObject({ said: [] });
    expect(heard('crew').some((text) => text.includes('Door bell'))).toBe(false);
    const heating = await make('Heating', { section: 'Crew house', tells: 'instead', tellsTo: [phone] });
    expect(heating.body).toMatchObject({ tells: 'instead' });
    await until(() => heard('phone').some((text) => text.includes('Heating')), 'told');
    expect(heard('crew').some((text) => text.includes('Heating'))).toBe(false);
  });

  it.each([
    [{ tells: 'loudly' }, 'tells', 'Expected tells to be one of by-routes, besides, instead, nobody'],
    [{ tellsTo: [999] }, 'tellsTo', 'Expected ids of channels; there is no channel 999.'],
    [{ tellsTo: Array(21).fill(1) }, 'tellsTo', 'Expected at most 20 channels.'],
  ])('is refused where it is nobody there is: %j', async (change, field, message) => {
    const [watch] = (await api('GET', '/watches')).body as { id: number }[];
    const shared = { level: 'instance', ...change };
    for (const answer of [
      await api('PATCH', `/watches/${watch!.id}`, change),
      await api('PATCH', '/shared-settings', shared),
      await api('POST', '/watches/changes', { ids: [watch!.id], ...change }),
    ]) {
      expect(answer.status).toBe(422);
      expect((answer.body as { errors: object[] }).errors).toEqual([
        { field, message: expect.stringContaining(message) as string },
      ]);
    }
  });

  it('forgets no other change when a channel of its own is gone', async () => {
    const made = (await make('Harbour camera', { tells: 'instead', tellsTo: [phone] })).body as {
      id: number;
    };
    await api('DELETE', `/channels/${phone}`);
    const changed = await api('PATCH', `/watches/${made.id}`, { name: 'Harbour camera, north' });
    expect([changed.status, (changed.body as { tellsTo: number[] }).tellsTo]).toEqual([200, [phone]]);
  });
});
