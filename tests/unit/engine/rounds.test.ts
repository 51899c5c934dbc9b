import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { Rounds } from '@/engine/messages/rounds';

describe('what goes in rounds', () => {
  const round = vi.fn(() => Promise.resolve());
  let rounds: Rounds<string>;
  beforeEach(() => {
    vi.useFakeTimers();
    round.mockClear();
    rounds = new Rounds(round);
  });
  afterEach(() => vi.useRealTimers());

  it('comes after as long as was said, at once where it is woken, and never twice for it', () => {
    rounds.sleep(1_000);
    rounds.sleep(10);
    vi.advanceTimersByTime(999);
    expect(round).not.toHaveBeenCalled();
    vi.advanceTimersByTime(1);
    expect(round).toHaveBeenCalledTimes(1);
    rounds.sleep(1_000);
    rounds.wake();
    rounds.wake();
    vi.advanceTimersByTime(0);
    expect(round).toHaveBeenCalledTimes(2);
    vi.advanceTimersByTime(5_000);
    expect(round).toHaveBeenCalledTimes(2);
  });

  it('knows who is at work, until that has ended', async () => {
    let end = () => undefined as void;
    rounds.begin('room', () => new Promise<void>((resolve) => (end = resolve)));
    expect(rounds.busy.has('room')).toBe(true);
    expect(rounds.busy.has('mailbox')).toBe(false);
    end();
    await vi.advanceTimersByTimeAsync(0);
    expect(rounds.busy.has('room')).toBe(false);
  });

  it('ends with what is at work, which has its time and is then cut short; nothing comes after', async () => {
    const { signal } = rounds;
    const ended = vi.fn();
    rounds.begin(
      'slow',
      () => new Promise<void>((resolve) => signal.addEventListener('abort', () => resolve())),
    );
    rounds.sleep(10);
    void rounds.close(2_000).then(ended);
    expect(rounds.closed).toBe(true);
    await vi.advanceTimersByTimeAsync(1_999);
    expect([signal.aborted, ended.mock.calls.length]).toEqual([false, 0]);
    await vi.advanceTimersByTimeAsync(1);
    expect([signal.aborted, ended.mock.calls.length]).toEqual([true, 1]);
    rounds.wake();
    await vi.advanceTimersByTimeAsync(60_000);
    expect(round).not.toHaveBeenCalled();
  });

  it('cuts nothing short that ended in time', async () => {
    rounds.begin('quick', () => Promise.resolve());
    await rounds.close(2_000);
    await vi.advanceTimersByTimeAsync(60_000);
    expect(rounds.signal.aborted).toBe(false);
  });
});
