import { describe, expect, it } from 'vitest';
import { Pacer, restAfterMs } from '@/ui/live/refresh-pace';

function paced() {
  let now = 0;
  let timers: { at: number; run: () => void }[] = [];
  const begun: number[] = [];
  const pacer = new Pacer({
    now: () => now,
    later: (run, ms) => {
      const timer = { at: now + ms, run };
      timers.push(timer);
      return () => (timers = timers.filter((one) => one !== timer));
    },
    draw: () => void begun.push(now),
  });
  const goTo = (at: number) => {
    now = at;
    const due = timers.filter((timer) => timer.at <= at);
    timers = timers.filter((timer) => timer.at > at);
    for (const { run } of due) run();
  };
  return { pacer, begun, goTo };
}

describe('drawing a page anew', () => {
  it('begins at once the first time, and rests at least 0.7 s after that', () => {
    const { pacer, begun, goTo } = paced();
    pacer.want();
    goTo(0);
    pacer.want();
    goTo(50);
    pacer.drawn();
    goTo(749);
    expect(begun).toEqual([0]);
    goTo(750);
    expect(begun).toEqual([0, 750]);
  });

  it('never takes more than a quarter of the time, however much changes', () => {
    const { pacer, begun, goTo } = paced();
    for (let at = 0; at <= 20_000; at += 100) {
      goTo(at);
      if (begun.length > 0 && at - begun.at(-1)! === 900) pacer.drawn();
      pacer.want();
    }
    expect(begun).toEqual([100, 3700, 7300, 10_900, 14_500, 18_100]);
    expect(restAfterMs(60_000)).toBe(4_000);
  });

  it('does not wait for ever for an end that nobody heard of, and stops when it is closed', () => {
    const { pacer, begun, goTo } = paced();
    pacer.want();
    goTo(0);
    pacer.want();
    goTo(29_000);
    expect(begun).toEqual([0]);
    goTo(31_000);
    pacer.want();
    goTo(35_000);
    expect(begun).toEqual([0, 35_000]);
    pacer.drawn();
    pacer.want();
    pacer.close();
    goTo(90_000);
    expect(begun).toHaveLength(2);
  });
});
