import { beforeAll, describe, expect, it } from 'vitest';
import { makeCheckin } from '../helpers';
import { withinProcess, type Within } from '../within';

interface Problem {
  status: number;
  errors: { field: string; message: string }[];
}

/** What an open desk asks for of the rows it shows. */
describe('lines by their ids', () => {
  let product: Within;
  let ids: number[];
  withinProcess((started) => (product = started));
  beforeAll(async () => {
    ids = [];
    for (const name of ['North pier', 'South pier', 'Slipway'])
      ids.push((await makeCheckin(product, { name })).id);
  });
  const lines = async (query: string) =>
    (await product.api('GET', `/lines?${query}`)).body as { id: number }[];
  const refusal = async (query: string) => {
    const { status, errors } = (await product.api('GET', `/lines?${query}`)).body as Problem;
    return { status, message: errors[0]!.message };
  };

  it('come in the order they were asked for, as far as they are there', async () => {
    const [north, south, slipway] = ids;
    const asked = await lines(`ids=${slipway},999999,${north}`);
    expect(asked.map(({ id }) => id)).toEqual([slipway, north]);
    expect((await lines(`ids=${south}`)).map(({ id }) => id)).toEqual([south]);
    expect(await lines('')).toHaveLength(3);
  });

  it('may be a hundred at once', async () => {
    const many = Array.from({ length: 101 }, (_, i) => ids[0]! + i);
    expect(await lines(`ids=${many.slice(0, 100).join(',')}`)).toHaveLength(3);
    expect((await refusal(`ids=${many.join(',')}`)).status).toBe(422);
  });

  it.each([
    '',
    '0',
    '01',
    '1,',
    ',1',
    '1,,2',
    '1,02',
    'a1',
    '1a',
    '1.5',
    '-1',
    '1,a',
    '1000000000000000',
    `${'9'.repeat(200)}`,
  ])('are refused where they are none: %j', async (text) => {
    const { status, message } = await refusal(`ids=${encodeURIComponent(text)}`);
    expect(status).toBe(422);
    expect(message).toBe(
      `Expected at most 100 ids of watches with commas between them, got "${text.slice(0, 80)}".`,
    );
  });

  it('take no other words than there are', async () => {
    expect(await refusal('worstFirst=maybe')).toEqual({
      status: 422,
      message: 'Expected true or false, got "maybe".',
    });
  });
});
