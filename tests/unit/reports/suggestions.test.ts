import { describe, expect, it } from 'vitest';
import { MOST_OUTPUT_BYTES, OutputKeeper } from '@/core/reports/output';
import {
  arrivalsOf,
  runsOf,
  suggestLeeway,
  suggestLongestRun,
  withDues,
  type Run,
} from '@/core/reports/runs';
import { saidAt as said, T0 } from './said';

const MINUTE = 60_000;
const DAY = 1440 * MINUTE;

const ran = (rest: Partial<Run>): Run => ({ ...runsOf([said(1, 0, 'done')])[0]!, ...rest });

describe('runs of one job at the same time', () => {
  it('notes without a name belong to the run that began last', () => {
    const runs = runsOf([
      said(1, 0, 'begun', { run: 'a' }),
      said(2, 1, 'begun', { run: 'b' }),
      said(3, 2, 'note', { progress: 10, output: 'ten' }),
      said(4, 3, 'note', { output: 'more' }),
      said(5, 4, 'note', { run: 'a', output: '' }),
    ]);
    expect(runs).toMatchObject([
      { name: 'b', notes: 2, progress: 10, output: 'ten\nmore', doubled: true },
      { name: 'a', notes: 1, progress: null, output: null, doubled: false },
    ]);
  });

  it('a note while none runs is no run', () => {
    expect(runsOf([said(1, 0, 'note')])).toEqual([]);
    expect(runsOf([said(1, 0, 'begun'), said(2, 1, 'done'), said(3, 2, 'note')])[0]!.notes).toBe(0);
  });

  it('a begun that comes again leaves the one before never done, and runs beside it', () => {
    const runs = runsOf([said(1, 0, 'begun'), said(2, 5, 'begun'), said(3, 9, 'done', { code: 0 })]);
    expect(runs).toMatchObject([
      { id: 3, result: 'done', ms: 4, doubled: true },
      { id: 1, result: 'never done', ended: null, doubled: false },
    ]);
  });

  it('an exit status other than 0 is a failure, whatever word it came with', () => {
    const [three, two, one] = runsOf([
      said(1, 0, 'done', { code: 7 }),
      said(2, 1, 'failed', { code: 0 }),
      said(3, 2, 'done', { code: 0, output: '' }),
    ]);
    expect([one, two, three].map((run) => run!.result)).toEqual(['failed', 'failed', 'done']);
    expect(three!.output).toBeNull();
  });

  it('answer the last due time before them, or one that is just ahead', () => {
    const dues = [T0, T0 + DAY];
    const due = (begun: number) => withDues([ran({ begun: T0 + begun })], dues, 5 * MINUTE)[0]!.due;
    expect(due(-6 * MINUTE)).toBeNull();
    expect(due(-5 * MINUTE)).toBe(T0);
    expect(due(DAY - 6 * MINUTE)).toBe(T0);
    expect(due(DAY - 5 * MINUTE)).toBe(T0 + DAY);
    expect(withDues([ran({ begun: null, ended: T0 + 1 })], dues, 0)[0]!.due).toBe(T0);
  });

  it('what came of a due time: the first that answered it, how many, and whether one failed', () => {
    const runs = [
      ran({ due: T0, begun: T0 + 9, result: 'failed' }),
      ran({ due: T0, begun: T0 - 3 }),
      ran({ due: T0 + DAY, begun: null, ended: T0 + DAY + 4 }),
      ran({ due: null }),
    ];
    expect(arrivalsOf(runs, [T0, T0 + DAY, T0 + 2 * DAY])).toEqual([
      { due: T0, lateMs: -3, runs: 2, failed: true },
      { due: T0 + DAY, lateMs: 4, runs: 1, failed: false },
      { due: T0 + 2 * DAY, lateMs: null, runs: 0, failed: false },
    ]);
  });
});

describe('a longest run that is suggested', () => {
  const lengths = (...minutes: number[]) => minutes.map((n) => ran({ ms: n * MINUTE }));

  it('needs eight runs that went well and were measured', () => {
    const seven = lengths(1, 1, 1, 1, 1, 1, 1);
    expect(suggestLongestRun(seven)).toBeNull();
    expect(suggestLongestRun([...seven, ran({ ms: MINUTE, result: 'failed' })])).toBeNull();
    expect(suggestLongestRun([...seven, ran({ ms: null })])).toBeNull();
    expect(suggestLongestRun([...seven, ran({ ms: MINUTE })])).toEqual({
      value: 300,
      how: '99 of 100 runs took at most 1 min; 3 times that, rounded up.',
      alarms: 0,
    });
  });

  it('is three times what 99 of 100 took, and says how often it would have alarmed', () => {
    const hundred = lengths(...Array.from({ length: 199 }, () => 10), 100);
    expect(suggestLongestRun(hundred)).toEqual({
      value: 30 * 60,
      how: '99 of 100 runs took at most 10 min; 3 times that, rounded up.',
      alarms: 1,
    });
    expect(suggestLongestRun(lengths(1, 2, 3, 4, 5, 6, 7, 8))!.value).toBe(30 * 60);
  });

  it('is at least five minutes, and whole days beyond one', () => {
    expect(suggestLongestRun(Array.from({ length: 8 }, () => ran({ ms: 5 })))!.value).toBe(300);
    expect(suggestLongestRun(lengths(...Array.from({ length: 8 }, () => 900)))!.value).toBe(2 * 86_400);
    expect(suggestLongestRun(lengths(...Array.from({ length: 8 }, () => 480)))!.value).toBe(86_400);
  });
});

describe('a leeway that is suggested', () => {
  const answered = (every: number, late: readonly number[]) =>
    late.map((ms, i) => ran({ due: T0 + i * every, ended: T0 + i * every + ms }));

  it('is half as much again as 99 of 100 were late', () => {
    const late = [1, 2, 3, 4, 5, 6, 7, 8].map((n) => n * MINUTE);
    expect(suggestLeeway(answered(DAY, late))).toEqual({
      value: 15 * 60,
      how: '99 of 100 check-ins came after their due time and took at most 8 min; 1.5 times that, rounded up.',
      alarms: 0,
    });
  });

  it('leaves out what failed, answered nothing, or came half the way to the next', () => {
    const good = answered(
      DAY,
      Array.from({ length: 8 }, () => MINUTE),
    );
    const others = [
      ran({ due: T0 + 9 * DAY, ended: T0 + 9 * DAY + DAY / 4, result: 'failed' }),
      ran({ due: null, ended: T0 }),
      ran({ due: T0 + 8 * DAY, ended: T0 + 8 * DAY + DAY / 2 }),
    ];
    expect(suggestLeeway([...good, ...others])!.value).toBe(300);
    expect(suggestLeeway(good.slice(1))).toBeNull();
    const just = ran({ due: T0 + 8 * DAY, ended: T0 + 8 * DAY + DAY / 2 - 1 });
    expect(suggestLeeway([...good, just])!.value).toBeGreaterThan(DAY / 2000);
  });

  it('counts the first answer to a due time, and an early one as not late', () => {
    const runs = answered(
      DAY,
      Array.from({ length: 8 }, () => -MINUTE),
    );
    const again = runs.map((run) => ran({ due: run.due, ended: run.due! + 60 * MINUTE }));
    expect(suggestLeeway([...again, ...runs])!.value).toBe(300);
  });

  it('is no longer than the job’s own pace, where that can be kept', () => {
    const runs = answered(
      4 * MINUTE,
      Array.from({ length: 12 }, () => MINUTE),
    );
    // 90 s, not five minutes: by then the next one is due.
    expect(suggestLeeway(runs)!.value).toBe(90);
  });
});

describe('output that is kept', () => {
  const keep = (...chunks: Uint8Array[]) => {
    const keeper = new OutputKeeper();
    for (const chunk of chunks) keeper.add(chunk);
    return keeper;
  };
  const bytes = (n: number, letter: string) => new TextEncoder().encode(letter.repeat(n));

  it('is all of it up to the limit, however it comes', () => {
    expect(keep().asText()).toBeNull();
    expect(keep(bytes(0, 'a')).asText()).toBeNull();
    expect(keep(bytes(3, 'a'), bytes(2, 'b')).asText()).toBe('aaabb');
    const whole = keep(bytes(19_999, 'a'), bytes(2, 'b'), bytes(MOST_OUTPUT_BYTES - 20_001, 'c'));
    expect(whole.asText()).toBe(`${'a'.repeat(19_999)}bb${'c'.repeat(MOST_OUTPUT_BYTES - 20_001)}`);
    expect(whole.size).toBe(MOST_OUTPUT_BYTES);
  });

  it('is its beginning and its end beyond that, with how much is left out', () => {
    const one = keep(bytes(20_000, 'a'), bytes(1, 'x'), bytes(80_000, 'z')).asText();
    expect(one).toBe(`${'a'.repeat(20_000)}\n[… 1 bytes left out …]\n${'z'.repeat(80_000)}`);
    const many = keep(
      bytes(20_000, 'a'),
      ...Array.from({ length: 300 }, () => bytes(1000, 'm')),
      bytes(80_000, 'z'),
    );
    expect(many.asText()).toContain('[… 300000 bytes left out …]');
    expect(many.asText()).toHaveLength(100_000 + '\n[… 300000 bytes left out …]\n'.length);
    const large = keep(bytes(500_000, 'b'));
    expect(large.asText()).toContain('[… 400000 bytes left out …]');
  });

  it('holds no zero bytes, which a database would end the text at', () => {
    expect(keep(new Uint8Array([97, 0, 98])).asText()).toBe('a\uFFFDb');
  });
});
