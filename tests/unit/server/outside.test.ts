import { PassThrough, Readable } from 'node:stream';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { TooBusyError, withHashSlot } from '@/accounts/hash-limiter';
import { limitTime } from '@/outside/limit';
import { OutsideError, readBounded } from '@/outside/read';

const bounds = { mostBytes: 10, withinMs: 60 };

function endless(): { source: AsyncIterable<Uint8Array>; taken: () => number; released: () => boolean } {
  let taken = 0;
  let released = false;
  async function* chunks() {
    try {
      for (;;) {
        taken += 1;
        yield Buffer.from('abcd');
      }
    } finally {
      released = true;
    }
  }
  return { source: chunks(), taken: () => taken, released: () => released };
}

describe('reading what comes from outside', () => {
  it('leaves neither a timer nor a listener behind, however it ended', async () => {
    vi.useFakeTimers();
    const above = new AbortController();
    const dropped = vi.spyOn(above.signal, 'removeEventListener');
    const within = { ...bounds, signal: above.signal };
    await readBounded(Readable.from([Buffer.from('abc')]), within);
    await expect(readBounded(endless().source, within)).rejects.toThrow('longer than 10 bytes');
    expect(vi.getTimerCount()).toBe(0);
    expect(dropped).toHaveBeenCalledTimes(2);
    vi.useRealTimers();
  });

  it('gives what came, from any kind of source, and nothing for none', async () => {
    expect((await readBounded(Readable.from([Buffer.from('ab'), Buffer.from('c')]), bounds)).toString()).toBe(
      'abc',
    );
    expect((await readBounded(new Response('abc').body as never, bounds)).toString()).toBe('abc');
    expect(await readBounded(null, bounds)).toHaveLength(0);
    expect(await readBounded(Readable.from([Buffer.alloc(10)]), bounds)).toHaveLength(10);
  });

  it('stops at the first byte too many, keeps the beginning and lets the source go', async () => {
    const { source, taken, released } = endless();
    const error = await readBounded(source, bounds).catch((e: unknown) => e);
    expect(error).toBeInstanceOf(OutsideError);
    expect((error as OutsideError).why).toBe('too-long');
    expect((error as OutsideError).begun.toString()).toBe('abcdabcdab');
    expect(taken()).toBe(3);
    expect(released()).toBe(true);
  });

  it('stops when the time is up, though nothing comes at all or a byte at a time', async () => {
    const silent = new PassThrough();
    silent.write('abc');
    const error = (await readBounded(silent, bounds).catch((e: unknown) => e)) as OutsideError;
    expect([error.why, error.begun.toString()]).toEqual(['too-slow', 'abc']);
    expect(silent.destroyed).toBe(true);
    async function* drip() {
      for (;;) {
        await new Promise((resolve) => setTimeout(resolve, 15));
        yield Buffer.from('.');
      }
    }
    const slow = (await readBounded(drip(), { ...bounds, mostBytes: 1000 }).catch(
      (e: unknown) => e,
    )) as OutsideError;
    expect(slow.why).toBe('too-slow');
  });

  it('ends with the signal from above', async () => {
    const above = new AbortController();
    const reading = readBounded(new PassThrough(), { mostBytes: 10, withinMs: 60_000, signal: above.signal });
    above.abort(new Error('called off'));
    await expect(reading).rejects.toThrow('called off');
  });
});

describe('a limit of time', () => {
  afterEach(() => vi.useRealTimers());

  it('ends by its timer or from above, and holds on to neither afterwards', () => {
    vi.useFakeTimers();
    const above = new AbortController();
    const first = limitTime(100, above.signal);
    vi.advanceTimersByTime(99);
    expect([first.signal.aborted, first.isOver]).toEqual([false, false]);
    vi.advanceTimersByTime(1);
    expect([first.signal.aborted, first.isOver]).toEqual([true, true]);
    const second = limitTime(100, above.signal);
    above.abort();
    expect([second.signal.aborted, second.isOver]).toEqual([true, false]);
    const third = limitTime(100);
    third.release();
    expect(vi.getTimerCount()).toBe(1);
    second.release();
    expect(vi.getTimerCount()).toBe(0);
    expect(limitTime(100, above.signal).signal.aborted).toBe(true);
  });
});

describe('room for hashing', () => {
  it('runs two at once, has others wait in a row, and refuses when the row is long', async () => {
    const ends: (() => void)[] = [];
    let most = 0;
    let running = 0;
    const work = async () => {
      running += 1;
      most = Math.max(most, running);
      await new Promise<void>((resolve) => ends.push(resolve));
      running -= 1;
    };
    const all = Array.from({ length: 18 }, () => withHashSlot(work));
    await expect(withHashSlot(work)).rejects.toBeInstanceOf(TooBusyError);
    while (ends.length > 0) {
      ends.shift()!();
      await new Promise((resolve) => setImmediate(resolve));
    }
    await Promise.all(all);
    expect([most, running]).toEqual([2, 0]);
    await expect(withHashSlot(async () => 'free again')).resolves.toBe('free again');
    await expect(withHashSlot(() => Promise.reject(new Error('broke')))).rejects.toThrow('broke');
    await expect(withHashSlot(async () => 'still free')).resolves.toBe('still free');
  });
});
