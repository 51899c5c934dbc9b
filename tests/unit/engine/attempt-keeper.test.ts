import { describe, expect, it } from 'vitest';
import { AttemptKeeper } from '@/engine/messages/attempt-keeper';
import type { Attempt } from '@/store/messages/deliveries';

const attempt = (deliveryId: number): Attempt => ({
  ...{ deliveryId, at: 0, ok: true, said: '200', state: 'delivered', nextAt: 0 },
});

describe('keeping attempts', () => {
  it('commits what has gathered together, in order, and what comes meanwhile with the next', async () => {
    const commits: number[][] = [];
    let letGo: () => void = () => undefined;
    const keeper = new AttemptKeeper(async (all) => {
      commits.push(all.map(({ deliveryId }) => deliveryId));
      if (commits.length === 1) await new Promise<void>((resolve) => (letGo = resolve));
    });
    const kept: number[] = [];
    const all = [1, 2, 3].map((id) => keeper.keep(attempt(id)).then(() => kept.push(id)));
    await new Promise((resolve) => setTimeout(resolve, 5));
    expect([commits, kept]).toEqual([[[1, 2, 3]], []]);
    const late = [4, 5].map((id) => keeper.keep(attempt(id)));
    letGo();
    await Promise.all([...all, ...late]);
    expect(commits).toEqual([
      [1, 2, 3],
      [4, 5],
    ]);
    expect(kept).toEqual([1, 2, 3]);
    await keeper.keep(attempt(6));
    expect(commits.at(-1)).toEqual([6]);
  });

  it('tells each of its own fault, and keeps the others', async () => {
    const saved: number[] = [];
    const keeper = new AttemptKeeper(async (all) => {
      if (all.some(({ deliveryId }) => deliveryId === 2)) throw new Error('that one is at fault');
      saved.push(...all.map(({ deliveryId }) => deliveryId));
    });
    const came = await Promise.allSettled([1, 2, 3].map((id) => keeper.keep(attempt(id))));
    expect(came.map(({ status }) => status)).toEqual(['fulfilled', 'rejected', 'fulfilled']);
    expect(saved).toEqual([1, 3]);
  });
});
