import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { AskingLine, type Written } from '@/channels/frame/asking-line';
import type { Heard } from '@/channels/frame/kind';

describe('a line that asks what was written', () => {
  let heard: Heard[];
  let asked: (string | null)[];
  /** What the next questions are answered with; one that is left out is never answered. */
  let answers: (Written | Error)[];
  let line: AskingLine;
  let deaf: string[];
  let opened: number;
  const said = (text: string): Heard => ({ by: 'ines', text, to: null });

  beforeEach(() => {
    vi.useFakeTimers();
    heard = [];
    asked = [];
    answers = [];
    deaf = [];
    opened = 0;
    line = new AskingLine(
      {
        send: () => Promise.resolve({ ok: true, retry: false, said: 'taken' }),
        reply: () => Promise.resolve(),
        ask: (since) => {
          asked.push(since);
          const answer = answers.shift();
          if (answer === undefined) return new Promise(() => undefined);
          return answer instanceof Error ? Promise.reject(answer) : Promise.resolve(answer);
        },
      },
      { onOpen: () => (opened += 1), onHeard: (one) => heard.push(one), onDeaf: (why) => deaf.push(why) },
    );
  });
  afterEach(async () => {
    await line.close();
    vi.useRealTimers();
  });

  it('asks for nothing before it is to listen, and then from where it is on', async () => {
    answers = [
      { upTo: '5', heard: [said('from before')] },
      { upTo: '7', heard: [said('mine')] },
    ];
    await vi.advanceTimersByTimeAsync(60_000);
    expect(asked).toEqual([]);
    line.listen();
    line.listen();
    await vi.advanceTimersByTimeAsync(60_000);
    expect(asked).toEqual([null, '5', '7']);
    expect(heard).toEqual([said('mine')]);
    expect(opened).toBe(1);
  });

  it('does not ask all the time where it is answered at once', async () => {
    answers = Array.from({ length: 100 }, () => ({ upTo: '1', heard: [] }));
    line.listen();
    await vi.advanceTimersByTimeAsync(10_500);
    expect(asked).toHaveLength(11);
  });

  it('asks less and less often while that fails, and begins anew from where it is then', async () => {
    const busy = () => new Error('busy');
    answers = [{ upTo: '5', heard: [] }, ...Array.from({ length: 8 }, busy), { upTo: '9', heard: [] }];
    line.listen();
    await vi.advanceTimersByTimeAsync(2_000);
    const [first, second] = asked;
    expect([first, second]).toEqual([null, '5']);
    await vi.advanceTimersByTimeAsync(4 * 60_000);
    const soon = asked.length;
    expect(soon).toBeGreaterThan(3);
    expect(soon).toBeLessThan(9);
    expect(asked.slice(2).every((since) => since === null)).toBe(true);
    await vi.advanceTimersByTimeAsync(60 * 60_000);
    // The one that is never answered is the last.
    expect(asked).toHaveLength(11);
    expect(asked.slice(-2)).toEqual([null, '9']);
    expect(opened).toBe(2);
    expect(deaf).toEqual(Array.from({ length: 8 }, () => 'busy'));
  });

  it('asks no more once it is closed', async () => {
    answers = [{ upTo: '5', heard: [] }];
    line.listen();
    await vi.advanceTimersByTimeAsync(500);
    await line.close();
    await vi.advanceTimersByTimeAsync(60_000);
    line.listen();
    await vi.advanceTimersByTimeAsync(60_000);
    expect(asked).toEqual([null]);
  });
});
