import { describe, expect, it } from 'vitest';
import { openStore } from '@/store/db/open';
import { TOKEN, until } from '../helpers';
import { withinProcess, type Within } from '../within';

interface Line {
  id: number | null;
  name: string;
  problem: string | null;
}

describe('many watches at once', () => {
  let product: Within;
  withinProcess((one) => (product = one));
  const make = async (watches: unknown) =>
    (await product.api('POST', '/watch-batches', { watches })) as { status: number; body: Line[] };
  const web = (name: string, rest: object = {}) => ({
    ...{ kind: 'web', name, everySeconds: 86_400, settings: { address: 'http://127.0.0.1:9/' } },
    ...rest,
  });

  it('are made as far as they fit, with a word on each that does not', async () => {
    const { status, body } = await make([
      web('Pier', { section: 'Piers', tags: ['night'] }),
      web('', {}),
      web('', {}),
      { kind: 'checkin', name: 'Backup', schedule: { type: 'period', everySeconds: 3600 } },
      web('Nowhere', { settings: { address: 'not an address at all' } }),
      web('Tied', { restsOn: [99_999] }),
      { kind: 'no-such-kind' },
      'no object',
    ]);
    expect(status).toBe(200);
    expect(body.map(({ id }) => id !== null)).toEqual([true, true, true, true, false, false, false, false]);
    expect(body.slice(0, 4).map(({ name }) => name)).toEqual(['Pier', '127.0.0.1', '127.0.0.1 2', 'Backup']);
    expect(body.slice(4).map(({ problem }) => problem)).toEqual([
      expect.stringContaining('address'),
      'Expected ids of watches; there is no watch 99999.',
      expect.stringContaining('Expected kind to be one of'),
      expect.stringContaining('Expected a JSON object'),
    ]);
    const pier = (await product.api('GET', `/watches/${body[0]!.id}`)).body as Record<string, unknown>;
    expect(pier).toMatchObject({ name: 'Pier', section: { name: 'Piers' }, tags: ['night'] });
    const job = (await product.api('GET', `/watches/${body[3]!.id}`)).body as { checkinAddress: string };
    expect((await fetch(job.checkinAddress)).status).toBe(200);
    // The engine looks at them, and it is noted who made them.
    await until(async () => {
      const one = (await product.api('GET', `/watches/${body[0]!.id}`)).body as { state: string };
      return one.state !== 'waiting';
    }, 'a first look');
    const db = await openStore(product.folder, { migrate: false });
    expect(await db('deeds').where({ deed: 'createManyWatches' }).count({ n: '*' })).toEqual([{ n: 4 }]);
    await db.destroy();
  });

  it('are at most a thousand, in several transactions, and are there all the same', async () => {
    expect((await make([])).status).toBe(422);
    expect((await make(Array.from({ length: 1001 }, () => ({})))).status).toBe(422);
    expect((await make('many')).status).toBe(422);
    const { body } = await make(Array.from({ length: 450 }, (_, i) => web(`Berth ${i}`)));
    expect(new Set(body.map(({ id }) => id)).size).toBe(450);
    expect(body.every(({ problem }) => problem === null)).toBe(true);
    // Page by page, each once, as far as they go.
    const seen: string[] = [];
    for (let at: string | null = '/watch-names?words=berth&limit=40'; at !== null;) {
      const response: Response = await fetch(`${product.base}/api/v1${at}`, {
        headers: { authorization: `Bearer ${TOKEN}` },
      });
      seen.push(...((await response.json()) as Line[]).map(({ name }) => name));
      at = /<[^>]*\/api\/v1([^>]*)>; rel="next"/.exec(response.headers.get('link') ?? '')?.[1] ?? null;
    }
    expect([seen.length, new Set(seen).size]).toEqual([100, 100]);
    const found = (await product.api('GET', '/watch-names?words=berth%204&limit=5')).body as Line[];
    expect(found.map(({ name }) => name)).toEqual([
      'Berth 4',
      'Berth 40',
      'Berth 400',
      'Berth 401',
      'Berth 402',
    ]);
  });

  it('are deleted as one and come back as one, with a word on each that cannot', async () => {
    const { body } = await make(Array.from({ length: 430 }, (_, i) => web(`Buoy ${i}`)));
    const ids = body.map(({ id }) => id!);
    const change = (ask: object) => product.api('POST', '/watches/changes', ask);
    const seen = await change({ ids, action: 'delete', preview: true });
    expect(seen.body).toMatchObject({ preview: true, chosen: 430 });
    const gone = await change({ ids, action: 'delete' });
    const effects = (gone.body as { watches: { id: number; changes: object[] }[] }).watches;
    expect(effects.map(({ id }) => id).sort((a, b) => a - b)).toEqual(ids);
    expect(effects[0]!.changes).toEqual([{ label: 'Watch', before: 'there', after: 'deleted' }]);
    expect((await product.api('GET', `/watches/${ids[0]}`)).status).toBe(404);
    const deleted = (await product.api('GET', '/deleted-watches?limit=1000')).body as {
      id: number;
      deletedAt: string;
    }[];
    // One change, one moment, however many transactions it took.
    const moments = new Set(deleted.map(({ deletedAt }) => deletedAt));
    expect([deleted.length, moments.size]).toEqual([430, 1]);
    const back = (ask: object) => product.api('POST', '/deleted-watches/restores', ask);
    const few = (await back({ ids: [ids[0], 999_999] })).body as Line[];
    expect(few).toEqual([
      { id: ids[0], name: 'Buoy 0', problem: null },
      { id: null, name: '', problem: 'There is no deleted watch 999999 to bring back.' },
    ]);
    const all = (await back({ deletedAt: [...moments][0] })).body as Line[];
    expect([all.length, all.every(({ problem }) => problem === null)]).toEqual([429, true]);
    expect((await product.api('GET', `/watches/${ids[429]}`)).status).toBe(200);
    for (const wrong of [{}, { ids, deletedAt: [...moments][0] }, { deletedAt: 'yesterday' }, { ids: 'all' }])
      expect((await back(wrong)).status, JSON.stringify(wrong)).toBe(422);
    expect((await back({ deletedAt: [...moments][0] })).status).toBe(422);
    const db = await openStore(product.folder, { migrate: false });
    const deeds = (deed: string) => db('deeds').where({ deed }).count({ n: '*' });
    expect(await deeds('changeSomeOfMany')).toEqual([{ n: 430 }]);
    expect(await deeds('restoreSomeOfMany')).toEqual([{ n: 430 }]);
    await db.destroy();
  });

  it('are changed for all or for none where one of them would not do', async () => {
    const { body } = await make(Array.from({ length: 210 }, (_, i) => web(`Lamp ${i}`)));
    const ids = body.map(({ id }) => id!);
    const change = (ask: object) => product.api('POST', '/watches/changes', { ids, ...ask });
    // The last of them rests on the first: what would make a circle is refused before the first part is written.
    await product.api('PATCH', `/watches/${ids[0]}`, { restsOn: [ids[209]] });
    const refused = await change({ addTags: ['lit'], restsOn: [ids[0]] });
    expect([refused.status, JSON.stringify(refused.body)]).toEqual([422, expect.stringContaining('circle')]);
    const tagged = (await product.api('GET', '/watches?tag=lit')).body as object[];
    expect(tagged).toEqual([]);
    const moved = await change({ section: 'Lamps', secondLooks: 4 });
    expect((moved.body as { watches: object[] }).watches).toHaveLength(210);
    expect((await product.api('GET', `/watches/${ids[209]}`)).body).toMatchObject({
      section: { name: 'Lamps' },
      secondLooks: 4,
    });
    expect((await change({ ids: [999_999], action: 'pause' })).status).toBe(422);
  });
});
