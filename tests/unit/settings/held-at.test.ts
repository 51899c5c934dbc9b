import { describe, expect, it } from 'vitest';
import {
  changesBetween,
  heldAt,
  NO_LEVELS,
  resolve,
  wholeConfig,
  type Levels,
} from '@/core/settings/cascade';

const levels: Levels = {
  ...NO_LEVELS,
  usual: { web: { 'settings.soonDays': 21 }, certificate: { every: 3600, 'settings.soonDays': 21 } },
  instance: { timeout: 7 },
  kinds: { web: { timeout: 5, every: 30 } },
  sections: { Piers: { secondLooks: 0 } },
};

describe('what holds at a place where nothing is set', () => {
  it('for everything: what ships, with what differs from kind to kind', () => {
    const held = heldAt({ level: 'instance' }, levels);
    expect(held.values).toMatchObject({ timeout: 5, secondLooks: 2, leeway: 300, 'settings.soonDays': 21 });
    expect(held.from).toMatchObject({ timeout: 'kind', secondLooks: 'product', leeway: 'product' });
    expect([...held.varying].sort()).toEqual(['every', 'timeout']);
  });

  it('for a kind: what is set for everything, not what is set for the kind', () => {
    const held = heldAt({ level: 'kind', kind: 'web' }, levels);
    expect(held.values).toMatchObject({ timeout: 7, every: 60 });
    expect(held.from).toMatchObject({ timeout: 'instance', every: 'product' });
    expect(held.varying.size).toBe(0);
    expect(held.values).not.toHaveProperty('leeway');
  });

  it('for a section: what is set for everything and for kinds, not what is set for the section', () => {
    const held = heldAt({ level: 'section', section: 'Piers' }, levels);
    expect(held.values).toMatchObject({ secondLooks: 2, leeway: 300 });
    expect(held.varying).toContain('timeout');
    expect(heldAt({ level: 'section', section: 'Piers' }, { ...levels, kinds: {} }).values.timeout).toBe(7);
  });
});

describe('what would change', () => {
  it('is what differs, whatever the order of its parts is told in', () => {
    const before = resolve({ kind: 'web', section: null }, levels);
    const after = resolve({ kind: 'web', section: 'Piers', own: { restsOn: [4] } }, levels);
    expect(changesBetween(before, after)).toEqual([
      { name: 'secondLooks', before: 2, after: 0 },
      { name: 'restsOn', before: [], after: [4] },
    ]);
    expect(changesBetween(before, before)).toEqual([]);
  });
});

describe('a whole watch', () => {
  it('leaves what it was made from as it was', () => {
    const own = { type: 'probe', settings: { address: 'a' } } as const;
    const resolved = resolve({ kind: 'web', section: null }, levels);
    expect(wholeConfig(own, resolved)).toMatchObject({
      settings: { address: 'a', soonDays: 21 },
      timeout: 5,
    });
    expect(own).toEqual({ type: 'probe', settings: { address: 'a' } });
    const job = { type: 'checkin', schedule: { type: 'period', every: 60 } } as const;
    expect(wholeConfig(job, resolve({ kind: 'checkin', section: null }, levels))).not.toHaveProperty(
      'settings',
    );
  });

  it('does not rest on itself because its section rests on it', () => {
    const resting: Levels = { ...levels, instance: { restsOn: [1] }, sections: { Piers: { restsOn: [7] } } };
    expect(resolve({ id: 7, kind: 'web', section: 'Piers' }, resting).values.restsOn).toEqual([1]);
    expect(resolve({ id: 7, kind: 'web', section: 'Piers' }, resting).from.restsOn).toBe('instance');
    expect(resolve({ id: 8, kind: 'web', section: 'Piers' }, resting).values.restsOn).toEqual([7]);
  });
});

describe('settings that an earlier version kept', () => {
  const defaults = {
    settings: { words: '', tests: [], accepted: '200-299' },
    rows: { tests: { many: 'all', value: '' }, gone: { a: 1 } },
  };
  const whole = (settings: object) =>
    wholeConfig({ type: 'probe', settings } as never, { values: {}, from: {} } as never, defaults);

  it('have what came later as it ships, in rows too', () => {
    expect(whole({ words: 'tide', tests: [{ what: '$.a', value: '1' }, {}] })).toEqual({
      type: 'probe',
      settings: {
        words: 'tide',
        accepted: '200-299',
        tests: [
          { what: '$.a', many: 'all', value: '1' },
          { many: 'all', value: '' },
        ],
      },
    });
    expect(whole({ tests: 'none' })).toMatchObject({ settings: { tests: 'none', words: '' } });
    expect(wholeConfig({ type: 'checkin' } as never, { values: {}, from: {} } as never, defaults)).toEqual({
      type: 'checkin',
    });
  });
});
