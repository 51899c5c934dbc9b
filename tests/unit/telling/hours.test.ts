import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { isOpen, nextOpening, type Hours } from '@/core/telling/hours';
import { tries } from '../tries';

const MINUTE = 60_000;
const at = (text: string) => Date.parse(text);
const iso = (ms: number | null) => (ms === null ? null : new Date(ms).toISOString().slice(0, 16));
const hoursOf = (rest: Partial<Hours>): Hours => ({
  zone: 'UTC',
  spans: [],
  daysOff: [],
  outside: 'hold',
  ...rest,
});
const OFFICE = hoursOf({ spans: [{ days: [1, 2, 3, 4, 5], from: '07:00', until: '18:00' }] });

describe('hours', () => {
  it('are always open where there are none', () => {
    expect(isOpen(null, 0)).toBe(true);
  });

  it('begin and end to the minute, by the wall clock of their zone', () => {
    // 26 November 2026 is a Thursday.
    const open = (text: string, zone = 'UTC') => isOpen({ ...OFFICE, zone }, at(text));
    expect(
      ['T06:59:59Z', 'T07:00:00Z', 'T17:59:59Z', 'T18:00:00Z'].map((time) => open(`2026-11-26${time}`)),
    ).toEqual([false, true, true, false]);
    expect(open('2026-11-26T17:30:00Z', 'Europe/Berlin')).toBe(false);
    expect(open('2026-11-26T06:30:00Z', 'Europe/Berlin')).toBe(true);
    expect([
      open('2026-11-27T12:00:00Z'),
      open('2026-11-28T12:00:00Z'),
      open('2026-11-29T12:00:00Z'),
    ]).toEqual([true, false, false]);
  });

  it('go on into the next day where they end no later than they begin', () => {
    const night = hoursOf({ spans: [{ days: [5], from: '22:00', until: '06:00' }] });
    const open = (text: string) => isOpen(night, at(text));
    expect(open('2026-11-27T21:59:00Z')).toBe(false);
    expect(open('2026-11-27T22:00:00Z')).toBe(true);
    expect(open('2026-11-28T05:59:00Z')).toBe(true);
    expect(open('2026-11-28T06:00:00Z')).toBe(false);
    expect(open('2026-11-27T05:00:00Z')).toBe(false);
    const whole = hoursOf({ spans: [{ days: [4], from: '00:00', until: '24:00' }] });
    expect([isOpen(whole, at('2026-11-26T23:59:59Z')), isOpen(whole, at('2026-11-27T00:00:00Z'))]).toEqual([
      true,
      false,
    ]);
    const around = hoursOf({ spans: [{ days: [4], from: '08:00', until: '08:00' }] });
    expect(isOpen(around, at('2026-11-27T07:59:00Z'))).toBe(true);
  });

  it('do not begin on days off, but go on into them', () => {
    const night = hoursOf({
      spans: [{ days: [5, 6], from: '22:00', until: '06:00' }],
      daysOff: ['2026-11-28'],
    });
    expect(isOpen(night, at('2026-11-28T05:00:00Z'))).toBe(true);
    expect(isOpen(night, at('2026-11-28T23:00:00Z'))).toBe(false);
    expect(isOpen(night, at('2026-11-29T05:00:00Z'))).toBe(false);
  });

  it('open next when the first of their spans begins', () => {
    expect(iso(nextOpening(OFFICE, at('2026-11-26T18:00:00Z')))).toBe('2026-11-27T07:00');
    expect(iso(nextOpening(OFFICE, at('2026-11-27T18:00:00Z')))).toBe('2026-11-30T07:00');
    expect(iso(nextOpening(OFFICE, at('2026-11-26T05:00:00Z')))).toBe('2026-11-26T07:00');
    const two = hoursOf({
      spans: [
        { days: [4], from: '20:00', until: '21:00' },
        { days: [4], from: '12:00', until: '13:00' },
      ],
    });
    expect(iso(nextOpening(two, at('2026-11-26T10:00:00Z')))).toBe('2026-11-26T12:00');
    expect(iso(nextOpening(two, at('2026-11-26T13:30:00Z')))).toBe('2026-11-26T20:00');
    expect(
      iso(nextOpening({ ...OFFICE, daysOff: ['2026-11-27', '2026-11-30'] }, at('2026-11-26T19:00:00Z'))),
    ).toBe('2026-12-01T07:00');
    expect(nextOpening(hoursOf({}), 0)).toBeNull();
  });

  it('that begin in a time daylight saving skips begin right after it', () => {
    const early = hoursOf({ zone: 'Europe/Lisbon', spans: [{ days: [7], from: '01:30', until: '05:00' }] });
    const opens = nextOpening(early, at('2026-03-28T12:00:00Z'));
    expect(iso(opens)).toBe('2026-03-29T01:30');
    expect(isOpen(early, opens!)).toBe(true);
  });

  it('are open where they say they open, and were closed a minute before', () => {
    const span = fc.record({
      days: fc.uniqueArray(fc.integer({ min: 1, max: 7 }), { minLength: 1 }),
      from: fc.constantFrom('00:00', '06:30', '12:00', '22:00', '23:59'),
      until: fc.constantFrom('00:30', '07:00', '12:30', '23:00', '24:00'),
    });
    fc.assert(
      fc.property(
        fc.array(span, { minLength: 1, maxLength: 3 }),
        fc.constantFrom('UTC', 'Europe/Lisbon', 'Asia/Kathmandu'),
        fc.integer({ min: 0, max: 500 * 24 * 60 }),
        (spans, zone, minutes) => {
          const hours = hoursOf({ spans, zone });
          const now = at('2026-01-01T00:00:00Z') + minutes * MINUTE;
          fc.pre(!isOpen(hours, now));
          const next = nextOpening(hours, now)!;
          expect(isOpen(hours, next)).toBe(true);
          expect(next - now).toBeLessThanOrEqual(8 * 24 * 60 * MINUTE);
        },
      ),
      { numRuns: tries(300) },
    );
  });
});
