import { describe, expect, it } from 'vitest';
import { NextAnswer } from '@/cases/frame/next-answer';

/** Work that ends when it is told to. */
function workshop() {
  const begun: { done: (value: number) => void; fail: (error: Error) => void }[] = [];
  const answer = new NextAnswer<number>(() => new Promise((done, fail) => begun.push({ done, fail })));
  const turn = () => new Promise((resolve) => setImmediate(resolve));
  return { begun, answer, turn };
}

describe('one answer for all who ask at the same time', () => {
  it('is never what was begun before somebody asked', async () => {
    const { begun, answer, turn } = workshop();
    const first = answer.ask();
    const others = [answer.ask(), answer.ask(), answer.ask()];
    expect(begun).toHaveLength(1);
    begun[0]!.done(1);
    expect(await first).toBe(1);
    await turn();
    expect(begun).toHaveLength(2);
    const late = answer.ask();
    begun[1]!.done(2);
    expect(await Promise.all(others)).toEqual([2, 2, 2]);
    await turn();
    begun[2]!.done(3);
    expect(await late).toBe(3);
    await turn();
    expect(begun).toHaveLength(3);
  });

  it('does not keep a fault: those who wait for the next get that', async () => {
    const { begun, answer, turn } = workshop();
    const first = answer.ask();
    const second = answer.ask();
    begun[0]!.fail(new Error('the disk is full'));
    await expect(first).rejects.toThrow('the disk is full');
    await turn();
    begun[1]!.done(2);
    expect(await second).toBe(2);
    const third = answer.ask();
    begun[2]!.done(3);
    expect(await third).toBe(3);
  });
});
