import { describe, expect, it } from 'vitest';
import type { State } from '@/core/lifecycle/state';
import { asKnown } from '@/core/settings/known-state';
import { isSameDigest, wordsOf, type WatchDigest } from '@/core/settings/watch-digest';
import { compareWatches, type WatchSort } from '@/core/settings/watch-order';
import { newStatus, type Status } from '@/core/lifecycle/status';

describe('the order of watches', () => {
  const watch = (id: number, name: string, kind = 'web', state: State = 'up') => ({ id, name, kind, state });
  const ordered = (sort: WatchSort, ...all: ReturnType<typeof watch>[]) => {
    const ids = all.sort((a, b) => compareWatches(sort, a, b)).map(({ id }) => id);
    // However they stood before.
    expect(
      all
        .reverse()
        .sort((a, b) => compareWatches(sort, a, b))
        .map(({ id }) => id),
    ).toEqual(ids);
    return ids;
  };

  it('goes by name, small and large letters of ASCII alike, then by which came first', () => {
    const some = [
      watch(1, 'tide'),
      watch(2, 'Booking'),
      watch(3, 'booking'),
      watch(4, 'TIDE b'),
      watch(5, 'Ärger'),
    ];
    expect(ordered('name', ...some)).toEqual([2, 3, 1, 4, 5]);
    expect(ordered('name', watch(1, 'ä'), watch(2, 'Ä'))).toEqual([2, 1]);
  });

  it('goes by kind, and by the worse state, and within by name', () => {
    const kinds = [watch(1, 'b', 'web'), watch(2, 'a', 'web'), watch(3, 'z', 'port'), watch(4, 'y', 'Web')];
    expect(ordered('kind', ...kinds)).toEqual([4, 3, 2, 1]);
    const states = [watch(1, 'b', 'web', 'down'), watch(2, 'z', 'web', 'up'), watch(3, 'a', 'web', 'down')];
    expect(ordered('state', ...states, watch(4, 'a', 'web', 'slow'))).toEqual([3, 1, 4, 2]);
  });
});

describe('what lists ask of a watch', () => {
  const digest: WatchDigest = {
    ...{ watchId: 1, state: 'up', words: 'tide', host: 'tide.test', address: '127.0.0.1', wantsFrom: null },
  };

  it('is found in small letters, by its name and what it looks at', () => {
    expect(wordsOf('Tide Tables', 'HTTPS://tide.test')).toBe('tide tables\nhttps://tide.test');
  });

  it('is the same only where all of it is, whichever watch it is of', () => {
    expect(isSameDigest(digest, { ...digest, watchId: 2 })).toBe(true);
    const changes: Partial<WatchDigest>[] = [
      ...[
        { state: 'down' as const },
        { words: 'tides' },
        { host: null },
        { address: null },
        { wantsFrom: 1 },
      ],
    ];
    for (const change of changes) expect(isSameDigest(digest, { ...digest, ...change })).toBe(false);
  });
});

describe('a watch as it is known', () => {
  const T0 = Date.parse('2026-11-25T12:00:00Z');
  const config = { type: 'probe', every: 60, timeout: 10, settings: {} } as never;
  const status = (rest: Partial<Status>): Status => ({
    ...newStatus(T0),
    state: 'up',
    coveredUntil: T0 + 60_000,
    ...rest,
  });

  it('waits from when its last finding stood no more, and not from before it was up', () => {
    const watch = { config, status: status({}) };
    expect(asKnown(watch, T0 + 61_000)).toBe(watch);
    const old = asKnown(watch, T0 + 3_600_000);
    expect(old).toEqual({ config, status: { ...watch.status, state: 'waiting', since: T0 + 60_000 } });
    const later = { config, status: status({ since: T0 + 90_000 }) };
    expect(asKnown(later, T0 + 3_600_000).status.since).toBe(T0 + 90_000);
  });

  it('is what it was where it is down, or a job, of which nobody looks', () => {
    const down = { config, status: status({ state: 'down' }) };
    expect(asKnown(down, T0 + 3_600_000)).toBe(down);
    const schedule = { type: 'period', every: 60 };
    const job = {
      ...{ config: { type: 'checkin', schedule, leeway: 10, longestRun: null } as never, status: status({}) },
    };
    expect(asKnown(job, T0 + 3_600_000)).toBe(job);
  });
});
