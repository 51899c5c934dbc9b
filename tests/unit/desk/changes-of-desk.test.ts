import { describe, expect, it } from 'vitest';
import { ChangesOfDesk } from '@/ui/overview/changes-of-desk';

const MINUTE = 60_000;
const numbers = (from: number, count: number) => Array.from({ length: count }, (_, i) => from + i);

describe('what has changed of an open desk', () => {
  it('is asked for as far as there is a row of it, in the order of rows', () => {
    const changes = new ChangesOfDesk();
    changes.show(0, [5, 3, 8]);
    changes.show(100, [40, 41]);
    changes.note([41, 3, 7]);
    expect([changes.any, changes.take(0, MINUTE), changes.any]).toEqual([true, [3, 41], false]);
    // What has no row is not kept for later: whoever scrolls to it reads it anew.
    changes.note([7]);
    expect([changes.any, changes.take(1, MINUTE)]).toEqual([true, []]);
    // Rows that were let go of are asked for no more.
    changes.show(100, []);
    changes.note([41, 5]);
    expect(changes.take(2, MINUTE)).toEqual([5]);
  });

  it('is what leads alone where no watch has changed', () => {
    const changes = new ChangesOfDesk();
    changes.show(0, [1]);
    expect(changes.any).toBe(false);
    changes.wantHead();
    expect([changes.any, changes.take(0, MINUTE)]).toEqual([true, []]);
  });

  it('comes a hundred rows at a time', () => {
    const changes = new ChangesOfDesk();
    changes.show(0, numbers(1, 100));
    changes.show(100, numbers(101, 100));
    changes.note(numbers(1, 150));
    expect(changes.take(0, MINUTE)).toEqual(numbers(1, 100));
    expect([changes.any, changes.take(1, MINUTE), changes.any]).toEqual([true, numbers(101, 50), false]);
  });

  it('is the page where that was asked for, where an answer did not come, and after a while', () => {
    const changes = new ChangesOfDesk();
    changes.show(0, [1, 2]);
    changes.wantWhole();
    changes.note([1]);
    expect(changes.take(0, MINUTE)).toBe('whole');
    changes.readAnew();
    changes.note([2]);
    changes.failed();
    expect(changes.take(10, MINUTE)).toBe('whole');
    changes.readAnew();
    const at = (now: number) => {
      changes.note([2]);
      return changes.take(now, MINUTE);
    };
    expect([at(20), at(20 + MINUTE), at(21 + MINUTE)]).toEqual([[2], [2], 'whole']);
    // Read anew, it begins again.
    changes.readAnew();
    expect(at(22 + MINUTE)).toEqual([2]);
  });
});
