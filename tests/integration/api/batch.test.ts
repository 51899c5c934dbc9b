import { describe, expect, it } from 'vitest';
import { openStore } from '@/store/db/connection';
import { TOKEN, until, type Product } from '../helpers';
import { withProduct } from '../with-product';

interface Line {
  id: number | null;
  name: string;
  problem: string | null;
}

describe('many watches at once', () => {
  let product: Product;
  withProduct((one) => (product = one));
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
});
