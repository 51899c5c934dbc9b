import { describe, expect, it } from 'vitest';
import { Pace } from '@/core/messages/pace';

describe('the pace of a room', () => {
  it('lets a few go at once, and then one in so long', () => {
    const pace = new Pace({ burst: 3, everyMs: 1000 }, () => 5000);
    expect([1, 2, 3, 4, 5].map(() => pace.take())).toEqual([0, 0, 0, 1000, 2000]);
  });

  it('lets a few go at once again after a rest, and no more of them for a longer one', () => {
    let now = 0;
    const pace = new Pace({ burst: 2, everyMs: 1000 }, () => now);
    for (let i = 0; i < 4; i += 1) pace.take();
    now = 3000;
    expect([pace.take(), pace.take()]).toEqual([0, 1000]);
    now = 3_600_000;
    expect([pace.take(), pace.take(), pace.take()]).toEqual([0, 0, 1000]);
  });
});
