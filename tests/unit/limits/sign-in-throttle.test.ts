import { describe, expect, it } from 'vitest';
import {
  FORGET_FAILURES_MS,
  signInWaitMs,
  throttledClient,
  type Failures,
} from '@/core/limits/sign-in-throttle';

const now = 10_000_000;
const owner = { email: 'ines@ternferry.test', client: '192.0.2.7', known: false };
const failed = (client: string, count: number, rest: Partial<Failures> = {}): Failures => ({
  email: owner.email,
  client,
  count,
  lastAt: now,
  ...rest,
});

describe('slowing sign-in down', () => {
  it('lets a client fail three times, then doubles its wait up to five minutes', () => {
    const wait = (count: number, at = now) => signInWaitMs([failed(owner.client, count)], owner, at);
    expect(signInWaitMs([], owner, now)).toBe(0);
    expect(wait(3)).toBe(0);
    expect(wait(4)).toBe(1000);
    expect(wait(6)).toBe(4000);
    expect(wait(6, now + 3000)).toBe(1000);
    expect(wait(6000)).toBe(5 * 60_000);
  });

  it('counts a client over all accounts it tries', () => {
    const tries = ['a', 'b', 'c', 'd', 'e'].map((name) =>
      failed(owner.client, 1, { email: `${name}@x.test` }),
    );
    expect(signInWaitMs(tries, owner, now)).toBe(2000);
  });

  it('forgets after an hour: what failed before does not count on', () => {
    const long = failed(owner.client, 500, { lastAt: now - FORGET_FAILURES_MS - 1 });
    const fresh = failed(owner.client, 1, { email: 'rui@ternferry.test' });
    expect(signInWaitMs([long, fresh], owner, now)).toBe(0);
    expect(signInWaitMs([{ ...long, lastAt: now - FORGET_FAILURES_MS }, fresh], owner, now)).toBe(5 * 60_000);
  });

  it('keeps nobody out for what another client does, however long it goes on', () => {
    expect(signInWaitMs([failed('198.51.100.1', 1_000_000)], owner, now)).toBe(0);
    expect(signInWaitMs([failed('198.51.100.1', 500), failed('198.51.100.2', 15)], owner, now)).toBe(0);
  });

  it('makes an account wait a little for the tries of many, and not for a client its owner came from before', () => {
    const many = Array.from({ length: 60 }, (_, i) => failed(`198.51.100.${i}`, 2));
    expect(signInWaitMs(many, owner, now)).toBe(60_000);
    expect(signInWaitMs(many, { ...owner, known: true }, now)).toBe(0);
    expect(signInWaitMs([...many, failed(owner.client, 4)], { ...owner, known: true }, now)).toBe(1000);
  });

  it('forgets after an hour, and is not fooled by a clock that was set back', () => {
    expect(signInWaitMs([failed(owner.client, 60)], owner, now + FORGET_FAILURES_MS + 1)).toBe(0);
    expect(signInWaitMs([failed(owner.client, 4, { lastAt: now + 86_400_000 })], owner, now)).toBe(1000);
  });

  it('takes a /64 of IPv6 for one client', () => {
    expect(throttledClient('2001:db8:1:2:3:4:5:6')).toBe('2001:db8:1:2::/64');
    expect(throttledClient('2001:db8:1:2::9')).toBe('2001:db8:1:2::/64');
    expect(throttledClient('2001:db8::9')).toBe('2001:db8:0:0::/64');
    expect(throttledClient('::ffff:192.0.2.7')).toBe('::ffff:192.0.2.7');
    expect(throttledClient('192.0.2.7')).toBe('192.0.2.7');
  });
});
