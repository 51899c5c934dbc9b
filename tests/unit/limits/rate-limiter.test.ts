import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { RateLimiter } from '@/core/limits/rate-limiter';
import { signInWaitMs, throttledClient } from '@/core/limits/sign-in-throttle';

const LIMITS = { burst: 3, perSecond: 2, longestMs: 5000 };

/** The waits of one sender that comes at these moments. */
function waits(moments: readonly number[], limiter = new RateLimiter(LIMITS), sender = 'kiosk'): number[] {
  return moments.map((at) => limiter.waitMs(sender, at));
}

describe('whoever floods', () => {
  it('is let through as often as a burst allows, and then waits for each more', () => {
    expect(waits([0, 0, 0])).toEqual([0, 0, 0]);
    expect(waits([0, 0, 0, 0, 0])).toEqual([0, 0, 0, 500, 1000]);
  });

  it('is let through again as time fills the bucket, and never beyond it', () => {
    expect(waits([0, 0, 0, 0, 1000])).toEqual([0, 0, 0, 500, 0]);
    expect(waits([0, 0, 0, 500, 500])).toEqual([0, 0, 0, 0, 500]);
    // A day of quiet earns no more than a burst.
    expect(waits([0, 86_400_000, 86_400_000, 86_400_000, 86_400_000])).toEqual([0, 0, 0, 0, 500]);
  });

  it('never waits longer than the longest, however long it goes on', () => {
    const all = waits(Array<number>(100).fill(0));
    expect(Math.max(...all)).toBe(5000);
    expect(all.at(-1)).toBe(5000);
  });

  it('slows nobody else', () => {
    const limiter = new RateLimiter(LIMITS);
    waits(Array<number>(50).fill(0), limiter, 'flood');
    expect(waits([0, 0, 0], limiter, 'harbour')).toEqual([0, 0, 0]);
    expect(limiter.waitMs('flood', 0)).toBe(5000);
  });

  it('is forgotten once ten thousand others came after, the one quiet longest first', () => {
    const limiter = new RateLimiter(LIMITS);
    waits([0, 0, 0, 0], limiter, 'first');
    waits([0, 0, 0, 0], limiter, 'second');
    for (let i = 0; i < 9_998; i += 1) limiter.waitMs(`other ${i}`, 0);
    // It spoke again, so that the second is the one to go.
    expect(limiter.waitMs('first', 0)).toBe(1000);
    limiter.waitMs('one more', 0);
    expect(limiter.waitMs('second', 0)).toBe(0);
    expect(limiter.waitMs('first', 0)).toBe(1500);
  });

  it('gets no more through than a burst and the pace, whenever it comes', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 0, max: 20_000 }), { maxLength: 60 }), (moments) => {
        const at = moments.toSorted((a, b) => a - b);
        const free = waits(at).filter((wait) => wait === 0).length;
        const spanS = at.length === 0 ? 0 : (at.at(-1)! - at[0]!) / 1000;
        expect(free).toBeLessThanOrEqual(LIMITS.burst + Math.floor(spanS * LIMITS.perSecond));
      }),
    );
  });
});

describe('a client', () => {
  it.each([
    ['192.0.2.7', '192.0.2.7'],
    ['::ffff:192.0.2.7', '::ffff:192.0.2.7'],
    ['2001:db8:1:2:3:4:5:6', '2001:db8:1:2::/64'],
    ['2001:db8:1:2::6', '2001:db8:1:2::/64'],
    ['2001:db8::1', '2001:db8:0:0::/64'],
    ['2001:db8:1:2:3:4:5::', '2001:db8:1:2::/64'],
    ['2001::3:4:5:6:7', '2001:0:0:3::/64'],
    ['fe80::1%eth0', 'fe80:0:0:0::/64'],
    ['::1', '0:0:0:0::/64'],
    ['::', '0:0:0:0::/64'],
  ])('at %s is %s', (address, client) => expect(throttledClient(address)).toBe(client));
});

describe('failed sign-ins of others', () => {
  const email = 'ines@ternferry.test';
  const me = { email, client: '192.0.2.7', known: false };
  const row = (client: string, count: number, of = email) => ({ email: of, client, count, lastAt: 1000 });

  it('at another account do not make this one wait', () => {
    const others = Array.from({ length: 50 }, (_, i) => row(`198.51.100.${i}`, 9, `mate${i}@ternferry.test`));
    expect(signInWaitMs(others, me, 1000)).toBe(0);
    const same = others.map((one) => ({ ...one, email }));
    expect(signInWaitMs(same, me, 1000)).toBeGreaterThan(0);
    expect(signInWaitMs(same, { ...me, known: true }, 1000)).toBe(0);
  });
});
