import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { compare, compareMany } from '@/core/expect/compare';

describe('comparing a value', () => {
  it('takes numbers as numbers, to the last digit', () => {
    expect(compare('9007199254740993', 'is', '9007199254740992')).toBe(false);
    expect(compare('9007199254740993', 'at least', '9007199254740993')).toBe(true);
    expect(compare('0.1000000000000000000001', 'at most', '0.1')).toBe(false);
    expect(compare(1e3, 'is', '1000')).toBe(true);
    expect(compare('1.50', 'is', '1.5')).toBe(true);
    expect(compare('-2', 'at most', '-1.9')).toBe(true);
    expect(compare('', 'at most', '5')).toBe(false);
  });

  it('agrees with whole numbers of any size', () => {
    fc.assert(
      fc.property(
        fc.bigInt({ min: -(10n ** 30n), max: 10n ** 30n }),
        fc.bigInt({ min: -(10n ** 30n), max: 10n ** 30n }),
        (a, b) => {
          expect(compare(String(a), 'at least', String(b))).toBe(a >= b);
          expect(compare(String(a), 'is', String(b))).toBe(a === b);
        },
      ),
    );
  });

  it('takes dates as dates, whatever zone they are written in', () => {
    expect(compare('2026-11-25T18:00:00.000Z', 'at least', '2026-11-25')).toBe(true);
    expect(compare('2026-11-25T18:00:00.000Z', 'is', '2026-11-25T19:00:00+01:00')).toBe(true);
    expect(compare('2026-11-24', 'at least', '2026-11-25')).toBe(false);
    expect(compare('2026-11-25 and more', 'at least', '2026-11-25')).toBe(false);
  });
});

describe('comparing several values', () => {
  const disks = [40, 95, 60];

  it('means all of them, where nothing else is said', () => {
    expect(compareMany(disks, 'at most', '90')).toBe(false);
    expect(compareMany([40, 60], 'at most', '90')).toBe(true);
    expect(compareMany(disks, 'at most', '90', 'any')).toBe(true);
    expect(compareMany(disks, 'at least', '90', 'exactly one')).toBe(true);
    expect(compareMany([95, 96], 'at least', '90', 'exactly one')).toBe(false);
  });

  it('of no value at all holds only that it is not there', () => {
    expect(compareMany([], 'at most', '90')).toBe(false);
    expect(compareMany([], 'is not there', '')).toBe(true);
    expect(compareMany([], 'is there', '', 'any')).toBe(false);
  });
});
