import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { backoffMs } from '@/core/time/backoff';
import { needsSeconds } from '@/core/time/clock-text';
import {
  clockChange,
  dateAt,
  dayBegins,
  isTimeZone,
  momentsOf,
  wallAt,
  zoneOffsetMs,
} from '@/core/time/zone-time';
import { tries } from '../tries';

const HOUR = 3_600_000;
const ZONES = [
  'UTC',
  'Europe/Lisbon',
  'America/New_York',
  'Asia/Kathmandu',
  'Australia/Lord_Howe',
  'Pacific/Apia',
];

describe('what a wall clock shows', () => {
  it('comes back to its moment, or to both of them', () => {
    const moment = fc.integer({ min: Date.parse('2020-01-01') / 1000, max: Date.parse('2035-01-01') / 1000 });
    fc.assert(
      fc.property(moment, fc.constantFrom(...ZONES), (seconds, zone) => {
        const at = seconds * 1000;
        const moments = momentsOf(wallAt(at, zone), zone);
        expect(moments).toContain(at);
        expect(moments.length).toBeLessThanOrEqual(2);
        expect([...moments].sort((a, b) => a - b)).toEqual(moments);
        expect(zoneOffsetMs(at + 999, zone)).toBe(zoneOffsetMs(at, zone));
      }),
      { numRuns: tries(300) },
    );
  });

  it('is what the calendar of the machine says, in every zone, also close to a change', () => {
    const hour = fc.integer({ min: Date.parse('1990-01-01') / HOUR, max: Date.parse('2037-01-01') / HOUR });
    const zone = fc.constantFrom(...Intl.supportedValuesOf('timeZone'));
    const said = (at: number, timeZone: string) =>
      new Intl.DateTimeFormat('sv-SE', { timeZone, dateStyle: 'short', timeStyle: 'medium' }).format(at);
    const shown = (at: number, timeZone: string) =>
      new Date(at + zoneOffsetMs(at, timeZone)).toISOString().slice(0, 19).replace('T', ' ');
    fc.assert(
      fc.property(hour, zone, (hours, timeZone) => {
        const at = hours * HOUR;
        const change = clockChange(at, at + 200 * 24 * HOUR, timeZone)?.at ?? at;
        for (const moment of [at, change - 1000, change, change + HOUR])
          expect(`${timeZone} ${shown(moment, timeZone)}`).toBe(`${timeZone} ${said(moment, timeZone)}`);
      }),
      { numRuns: tries(300) },
    );
  });

  it('is shown twice in autumn and never in spring', () => {
    const wall = (text: string) => wallAt(Date.parse(`${text}Z`), 'UTC');
    expect(momentsOf(wall('2026-10-25T01:30:00'), 'Europe/Lisbon')).toEqual([
      Date.parse('2026-10-25T00:30:00Z'),
      Date.parse('2026-10-25T01:30:00Z'),
    ]);
    expect(momentsOf(wall('2026-03-29T01:30:00'), 'Europe/Lisbon')).toEqual([]);
    expect(momentsOf(wall('2026-07-01T12:00:00'), 'Europe/Lisbon')).toEqual([
      Date.parse('2026-07-01T11:00:00Z'),
    ]);
  });

  it.each([
    ['Europe/Lisbon', '2026-03-01T00:00:00Z', '2026-04-30T00:00:00Z', '2026-03-29T01:00:00Z', HOUR],
    ['Europe/Lisbon', '2026-10-01T00:00:00Z', '2026-11-30T00:00:00Z', '2026-10-25T01:00:00Z', -HOUR],
    [
      'Australia/Lord_Howe',
      '2026-04-01T00:00:00Z',
      '2026-04-30T00:00:00Z',
      '2026-04-04T15:00:00Z',
      -HOUR / 2,
    ],
  ])('changes in %s between %s and %s at %s', (zone, from, to, at, byMs) => {
    expect(clockChange(Date.parse(from), Date.parse(to), zone)).toEqual({ at: Date.parse(at), byMs });
    // Found to the second, wherever one begins to look.
    const change = Date.parse(at);
    expect(clockChange(change - 1, change, zone)).toEqual({ at: change, byMs });
    expect(clockChange(change - 999, change + 1, zone)).toEqual({ at: change, byMs });
    expect(clockChange(change, change + HOUR, zone)).toBeNull();
  });

  it('does not change where there is no such thing', () => {
    expect(clockChange(0, 86_400_000 * 365, 'Asia/Kathmandu')).toBeNull();
  });

  it('has a day of its own', () => {
    const at = Date.parse('2026-11-24T23:30:00Z');
    expect([dateAt(at, 'UTC'), dateAt(at, 'Asia/Kathmandu'), dateAt(at, 'America/New_York')]).toEqual([
      '2026-11-24',
      '2026-11-25',
      '2026-11-24',
    ]);
  });

  it.each([
    ['Europe/Lisbon', true],
    ['UTC', true],
    ['', false],
    ['Tern/Island', false],
  ])('%j is a zone: %s', (zone, is) => expect(isTimeZone(zone)).toBe(is));
});

describe('waits', () => {
  it.each([
    [0, 1000],
    [1, 1000],
    [2, 2000],
    [3, 4000],
    [6, 32_000],
    [7, 60_000],
    [5000, 60_000],
  ])('before try %i: %i ms', (tries, ms) =>
    expect(backoffMs(tries, { firstMs: 1000, longestMs: 60_000 })).toBe(ms),
  );

  it('are told to the second only where minutes do not tell them apart', () => {
    expect([needsSeconds(0, 119_999), needsSeconds(0, 120_000)]).toEqual([true, false]);
  });
});

describe('the beginning of a day', () => {
  it.each([
    ['2026-11-26', 'Europe/Lisbon', '2026-11-26T00:00:00Z'],
    ['2026-07-01', 'Europe/Lisbon', '2026-06-30T23:00:00Z'],
    ['2026-11-26', 'Pacific/Auckland', '2026-11-25T11:00:00Z'],
    // Midnight is skipped there.
    ['2026-03-29', 'Asia/Beirut', '2026-03-28T22:00:00Z'],
  ])('%s in %s is %s', (day, zone, at) => {
    expect(dayBegins(day, zone)).toBe(Date.parse(at));
  });

  it.each(['', '2026-02-30', '2026-13-01', '26-11-2026', '2026-11-26T00:00', 'today'])(
    'is none for %j',
    (day) => expect(dayBegins(day, 'UTC')).toBeNull(),
  );
});
