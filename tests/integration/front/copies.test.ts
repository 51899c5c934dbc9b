import { gunzipSync } from 'node:zlib';
import { beforeEach, describe, expect, it } from 'vitest';
import { Copies, type Wanted } from '@/server/site/copying/copies';
import { until } from '../helpers';

describe('copies of public pages', () => {
  let now = 0;
  let changedAt = 0;
  let drawn = 0;
  let rested: number[] = [];
  let gate: Promise<void> = Promise.resolve();
  let copies: Copies;

  beforeEach(() => {
    [now, changedAt, drawn, rested, gate] = [1_000_000, 0, 0, [], Promise.resolve()];
    copies = new Copies({ rest: async (ms) => void rested.push(ms), now: () => now });
  });

  const wanted = (key = 'ferries', body = ''): Wanted => ({
    key,
    changedAt: () => changedAt,
    draw: async () => {
      drawn += 1;
      const text = body || `drawn ${drawn}`;
      await gate;
      return key === 'nowhere' ? null : { type: 'text/html', body: text };
    },
  });
  const get = async (key?: string) => (await copies.get(wanted(key)))?.body.toString();
  const held = () => {
    let open = () => {};
    gate = new Promise((resolve) => (open = resolve));
    return () => open();
  };

  it('draws a sheet once until something on it changes', async () => {
    expect(await get()).toBe('drawn 1');
    now += 5000;
    expect(await get()).toBe('drawn 1');
    // A change in the very moment of the drawing may be missing from it.
    changedAt = 1_000_000;
    expect(copies.fresh(wanted())).toBeNull();
    expect(await get()).toBe('drawn 2');
    expect(await get()).toBe('drawn 2');
    expect(copies.fresh(wanted())!.body.toString()).toBe('drawn 2');
  });

  it('draws anew after ten seconds, for figures grow old by themselves', async () => {
    await get();
    now += 9_999;
    await get();
    expect(drawn).toBe(1);
    now += 1;
    await get();
    expect(drawn).toBe(2);
  });

  it('draws once for all who come meanwhile', async () => {
    const open = held();
    const crowd = Array.from({ length: 50 }, () => get());
    await until(() => drawn === 1, 'it is being drawn');
    open();
    expect(new Set(await Promise.all(crowd))).toEqual(new Set(['drawn 1']));
    expect(drawn).toBe(1);
  });

  it('does not hand out what was begun before a change to those who come after it', async () => {
    const open = held();
    const before = get();
    await until(() => drawn === 1, 'it is being drawn');
    now += 5;
    changedAt = now;
    now += 5;
    const after = [get(), get()];
    open();
    expect(await before).toBe('drawn 1');
    expect(await Promise.all(after)).toEqual(['drawn 2', 'drawn 2']);
  });

  it('keeps apart what has another key, packs once, and marks what it holds', async () => {
    const text = 'The boats sail. '.repeat(100);
    const one = (await copies.get(wanted('one', text)))!;
    const two = (await copies.get(wanted('two', text)))!;
    const other = (await copies.get(wanted('three', 'else')))!;
    expect(drawn).toBe(3);
    expect(gunzipSync(one.packed).toString()).toBe(text);
    expect(one.packed.length).toBeLessThan(text.length / 10);
    expect(one.tag).toBe(two.tag);
    expect(one.tag).not.toBe(other.tag);
    expect(one.packedTag).not.toBe(one.tag);
  });

  it('keeps nothing of what is not there, nor of what failed', async () => {
    expect(await get('nowhere')).toBeUndefined();
    expect(await get('nowhere')).toBeUndefined();
    expect(drawn).toBe(2);
    const failing = { ...wanted('bad'), draw: () => Promise.reject(new Error('no such table')) };
    await expect(copies.get(failing)).rejects.toThrow('no such table');
    expect(await get('bad')).toBe('drawn 3');
  });

  it('keeps a bounded number of copies, those used last', async () => {
    for (let i = 0; i < 256; i += 1) await get(`page ${i}`);
    await get('page 0');
    expect(drawn).toBe(256);
    await get('one more');
    await get('page 0');
    expect(drawn).toBe(257);
    await get('page 1');
    expect(drawn).toBe(258);
  });

  it('keeps a bounded number of bytes', async () => {
    const large = Array.from({ length: 3_000_000 }, (_, i) => String.fromCharCode(97 + ((i * i) % 26))).join(
      '',
    );
    for (let i = 0; i < 12; i += 1) await copies.get(wanted(`large ${i}`, large));
    await copies.get(wanted('large 11', large));
    expect(drawn).toBe(12);
    await copies.get(wanted('large 0', large));
    expect(drawn).toBe(13);
    // What is larger than a quarter of all is drawn for each.
    const huge = large.repeat(3);
    await copies.get(wanted('huge', huge));
    await copies.get(wanted('huge', huge));
    expect(drawn).toBe(15);
  });

  it('leaves the machine room while a page changes all the time', async () => {
    const draw = async (took: number) => {
      const open = held();
      const before = drawn;
      const got = get();
      await until(() => drawn > before, 'it is being drawn');
      now += took;
      open();
      await got;
      changedAt = now;
    };
    await draw(40);
    expect(rested).toEqual([]);
    await draw(900);
    // It took a quarter of the time since it was last begun, at most: 160 ms less the 40 it took.
    expect(rested).toEqual([120]);
    // However long it took, it is put off for a second at most.
    await draw(40);
    expect(rested).toEqual([120, 1000]);
  });
});
