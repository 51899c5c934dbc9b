import { beforeAll, describe, expect, it } from 'vitest';
import { makeAuthority } from '@/standins/certificates';
import { Harbour } from '@/standins/harbour';
import { until } from '../helpers';
import { withinProcess, type Within } from '../within';

/** Who hears of a watch goes by its section and its tags; what these are called changes nothing of it. */
describe('a section or a tag that is called otherwise', () => {
  let product: Within;
  let harbour: Harbour;
  let route: number;
  withinProcess((started) => (product = started));
  const api = async <T>(method: string, path: string, body?: object) =>
    (await product.api(method, path, body)).body as T;
  const idOf = async (list: string, name: string) =>
    (await api<{ id: number; name: string }[]>('GET', `/${list}`)).find((one) => one.name === name)!.id;
  const job = (name: string, rest: object) =>
    api<{ id: number; checkinAddress: string }>('POST', '/watches', {
      ...{ kind: 'checkin', name, schedule: { type: 'period', everySeconds: 86_400 }, ...rest },
    });
  const heard = () => harbour.rooms.find(({ id }) => id === 'crew')!.messages.map(({ text }) => text);
  const fail = ({ checkinAddress }: { checkinAddress: string }) => fetch(`${checkinAddress}?is=failed`);

  beforeAll(async () => {
    harbour = await Harbour.start({ basePort: 0, authority: await makeAuthority(), jobs: [] });
    const address = `http://127.0.0.1:${harbour.port}/rooms/crew/hook`;
    await api('POST', '/channels', { kind: 'webhook', name: 'Crew room', settings: { address } });
    route = (await api<{ id: number }[]>('GET', '/routes'))[0]!.id;
    return () => harbour.stop();
  });

  it('is chosen by routes and kept filters as before', async () => {
    const backup = await job('Manifest backup', { section: 'Piers' });
    const rota = await job('Crew rota', { tags: ['night'] });
    const quiet = await job('Fare sync', { section: 'Piers', tags: ['quiet'] });
    await api('PATCH', `/routes/${route}`, {
      watches: { all: false, sections: ['Piers'], tags: ['night'], except: { tags: ['quiet'] } },
    });
    await api('POST', '/filters', { name: 'Mine', filter: { sections: ['Piers'], tags: ['night'] } });
    await api('PATCH', `/sections/${await idOf('sections', 'Piers')}`, { name: 'Quays' });
    await api('PATCH', `/tags/${await idOf('tags', 'night')}`, { name: 'by night' });
    await api('PATCH', `/tags/${await idOf('tags', 'quiet')}`, { name: 'hush' });
    expect(await api('GET', `/routes/${route}`)).toMatchObject({
      watches: { sections: ['Quays'], tags: ['by night'], except: { tags: ['hush'] } },
    });
    const mine = (await api<{ name: string }[]>('GET', '/filters')).find(({ name }) => name === 'Mine');
    expect(mine).toMatchObject({ filter: { sections: ['Quays'], tags: ['by night'] } });
    // By what was there all along, and not by what was read anew.
    for (const one of [quiet, backup, rota]) await fail(one);
    await until(() => heard().some((text) => text.includes('Crew rota')), 'told by its tag');
    expect(heard().some((text) => text.includes('Manifest backup'))).toBe(true);
    expect(heard().some((text) => text.includes('Fare sync'))).toBe(false);
  });

  it('has no watch any more once it was deleted', async () => {
    const diary = await job('Tide diary', { tags: ['by night'] });
    const manifest = await job('Ferry manifest', { section: 'Quays' });
    await product.api('DELETE', `/tags/${await idOf('tags', 'by night')}`);
    for (const one of [diary, manifest]) await fail(one);
    await until(() => heard().some((text) => text.includes('Ferry manifest')), 'told by its section');
    expect(heard().some((text) => text.includes('Tide diary'))).toBe(false);
  });
});
