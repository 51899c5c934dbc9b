import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { renamedLines } from '@/core/followers/renamed';

const lines = (of: Record<number, string>) =>
  new Map(Object.entries(of).map(([id, label]) => [Number(id), label]));
const renamed = (before: Record<number, string>, after: Record<number, string>) =>
  Object.fromEntries(renamedLines(lines(before), lines(after)));

describe('lines that are called something else', () => {
  it('are known by their watches', () => {
    expect(
      renamed({ 1: 'Booking', 2: 'Kiosks', 3: 'Kiosks' }, { 1: 'Tickets', 2: 'Piers', 3: 'Piers' }),
    ).toEqual({
      Booking: 'Tickets',
      Kiosks: 'Piers',
    });
  });

  it('are not those that stayed, went, or fell apart', () => {
    expect(renamed({ 1: 'Booking' }, { 1: 'Booking' })).toEqual({});
    expect(renamed({ 1: 'Booking' }, {})).toEqual({});
    expect(renamed({ 2: 'Kiosks', 3: 'Kiosks' }, { 2: 'North', 3: 'South' })).toEqual({});
    // One watch of it stands elsewhere; its name is there all the same.
    expect(renamed({ 2: 'Kiosks', 3: 'Kiosks' }, { 2: 'Kiosks', 3: 'South' })).toEqual({});
    // Of what is left of it, all is called so.
    expect(renamed({ 2: 'Kiosks', 3: 'Kiosks' }, { 2: 'North' })).toEqual({ Kiosks: 'North' });
  });

  it('never take a name from a line that has it, and lead only to lines there are', () => {
    const map = fc.dictionary(
      fc.integer({ min: 1, max: 5 }).map(String),
      fc.constantFrom('a', 'b', 'c', 'd'),
    );
    fc.assert(
      fc.property(map, map, (before, after) => {
        for (const [old, now] of renamedLines(lines(before), lines(after))) {
          expect(Object.values(after)).not.toContain(old);
          expect(Object.values(after)).toContain(now);
        }
      }),
    );
  });
});
