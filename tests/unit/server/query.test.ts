import { describe, expect, it } from 'vitest';
import { pageOf, queryOf, readQuery } from '@/api/query';
import type { Listing } from '@/api/route';

const byTime = { by: 'time' } as Listing;
const read = async (text: string, list = byTime) =>
  pageOf((await readQuery(queryOf(undefined, list), new URLSearchParams(text))) as never, list);
const refusal = (message: string, field: string) => ({
  ...{ code: 'input.query', message, fields: [{ field, message }] },
});

describe('the part of a list that is asked for', () => {
  it.each(['1e2', '+5', '05', '0x10', '5.0', ' 5', ''])(
    'has a limit in plain digits, and not “%s”',
    async (limit) => {
      const message = `Expected limit in plain digits, got "${limit}".`;
      await expect(read(`limit=${encodeURIComponent(limit)}`)).rejects.toMatchObject(
        refusal(message, 'limit'),
      );
    },
  );

  it('is the first hundred, or as many as are asked for', async () => {
    expect(await read('')).toEqual({ limit: 100, ascending: false });
    expect(await read('limit=1000&order=asc')).toEqual({ limit: 1000, ascending: true });
    await expect(read('limit=-1')).rejects.toMatchObject({
      message: 'Expected limit to be a whole number from 1 to 1000, got "-1".',
    });
  });

  it('lies between two times that come in this order', async () => {
    const [early, late] = ['2026-11-01T00:00:00Z', '2026-12-01T01:00:00%2B01:00'];
    const [since, until] = [Date.UTC(2026, 10, 1), Date.UTC(2026, 11, 1)];
    expect(await read(`since=${early}&until=${late}`)).toMatchObject({ since, until });
    expect(await read(`since=${early}&until=${early}`)).toMatchObject({ since, until: since });
    expect(await read(`until=${late}`)).not.toHaveProperty('since');
    const message = `Expected until not to lie before since, got "${early}".`;
    await expect(read(`since=${late}&until=${early}`)).rejects.toMatchObject(refusal(message, 'until'));
  });
});
