import { describe, expect, it } from 'vitest';
import { TakenNames, uniqueName } from '@/core/settings/unique-name';
import { coreName, coreOf, coreText, wireName, wireOf } from '@/core/settings/wire-names';

describe('a name nobody else has', () => {
  it.each([
    ['Pier', [], 'Pier'],
    ['Pier', ['Kiosk'], 'Pier'],
    ['Pier', ['Pier'], 'Pier 2'],
    ['pier', [' PIER '], 'pier 2'],
    ['Pier', ['Pier', 'Pier 2', 'pier 3'], 'Pier 4'],
    ['Pier 2', ['Pier', 'Pier 2'], 'Pier 3'],
    ['Pier 2', ['Pier 2'], 'Pier 2 2'],
    ['Pier 24', ['Pier', 'Pier 24'], 'Pier 2'],
    ['Pier 2x', ['Pier', 'Pier 2x'], 'Pier 2x 2'],
    [' Pier', ['Pier'], ' Pier 2'],
  ])('%s beside %o is %s', (name, others, free) => expect(uniqueName(name, others)).toBe(free));

  it('is taken once it was given', () => {
    const names = new TakenNames(['Kiosk']);
    expect(['Pier', 'pier ', 'Kiosk', 'Pier 2', 'Pier'].map((name) => names.give(name))).toEqual([
      ...['Pier', 'pier  2', 'Kiosk 2', 'Pier 2', 'Pier 3'],
    ]);
  });
});

describe('settings by the names of the doors', () => {
  it('carry their unit, and come back as they were', () => {
    const kept = {
      every: 60,
      timeout: 10,
      secondLooks: 2,
      secondLookGap: 10,
      slowAfter: 900,
      leeway: 300,
      longestRun: null,
      shortestGap: 5,
      schedule: { type: 'period', every: 3600 },
      settings: { every: 'of the kind’s own' },
    };
    expect(wireOf(kept)).toEqual({
      everySeconds: 60,
      timeoutSeconds: 10,
      secondLooks: 2,
      secondLookGapSeconds: 10,
      slowAfterMs: 900,
      leewaySeconds: 300,
      longestRunSeconds: null,
      shortestGapSeconds: 5,
      schedule: { type: 'period', everySeconds: 3600 },
      settings: { every: 'of the kind’s own' },
    });
    expect(coreOf(wireOf(kept))).toEqual(kept);
    expect(wireOf({ schedule: null })).toEqual({ schedule: null });
    expect(wireOf({ schedule: 'daily' })).toEqual({ schedule: 'daily' });
  });

  it('are found one by one, in a path and in a sentence', () => {
    expect(wireName('every')).toBe('everySeconds');
    expect(wireName('name')).toBe('name');
    expect(coreName('schedule.everySeconds')).toBe('schedule.every');
    expect(coreName('settings.address')).toBe('settings.address');
    expect(
      coreText('Expected everySeconds to be at least 5, slowAfterMs to be 1, someSeconds and 5 Ms.'),
    ).toBe('Expected every to be at least 5, slowAfter to be 1, someSeconds and 5 Ms.');
  });
});
