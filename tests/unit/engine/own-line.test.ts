import type { LookupFunction } from 'node:net';
import { describe, expect, it } from 'vitest';
import { Uplink } from '@/engine/own/uplink';

/** A line whose one address leads to this machine, where a refusal comes from, or nowhere. */
function lineThat(leads: () => boolean | Promise<boolean>) {
  let now = 1_000_000;
  const changes: boolean[] = [];
  let asked = 0;
  const lookup: LookupFunction = (name, options, done) => {
    asked += 1;
    void Promise.resolve(leads()).then((there) => {
      if (!there) done(Object.assign(new Error(name), { code: 'ENOTFOUND' }), '');
      else if (options.all) done(null, [{ address: '127.0.0.1', family: 4 }]);
      else done(null, '127.0.0.1', 4);
    });
  };
  const line = new Uplink({
    now: () => now,
    monotonic: () => now,
    lookup,
    signal: new AbortController().signal,
    onChange: async ({ out }) => void changes.push(out),
    onError: (error) => {
      throw error;
    },
  });
  line.set(['gate.ternferry.test:1']);
  return { line, changes, asked: () => asked, later: (ms: number) => (now += ms) };
}

describe('the own line', () => {
  it('is asked again only after some seconds, unless it is to be found out anew', async () => {
    let there = true;
    const { line, changes, asked, later } = lineThat(() => there);
    expect(await line.isOut()).toBe(false);
    there = false;
    expect(await line.isOut()).toBe(false);
    expect(asked()).toBe(1);
    expect(await line.isOut(true)).toBe(true);
    expect(changes).toEqual([true]);
    // While it is lost, whoever asks within the next seconds is told so without another try.
    expect(await line.isOut(true)).toBe(true);
    expect(asked()).toBe(2);
    there = true;
    later(5_000);
    expect(await line.isOut()).toBe(false);
    expect(changes).toEqual([true, false]);
  });

  it('is not judged by a check that was under way before the question, and many questions share the next', async () => {
    const answers: ((there: boolean) => void)[] = [];
    const { line } = lineThat(() => new Promise<boolean>((resolve) => answers.push(resolve)));
    const early = line.isOut();
    const late = [line.isOut(true), line.isOut(true), line.isOut(true)];
    expect(answers).toHaveLength(1);
    answers[0]!(true);
    expect(await early).toBe(false);
    await expect.poll(() => answers.length).toBe(2);
    answers[1]!(false);
    expect(await Promise.all(late)).toEqual([true, true, true]);
    expect(answers).toHaveLength(2);
  });

  it('is taken for granted without addresses', async () => {
    const { line, asked } = lineThat(() => false);
    line.set([]);
    expect(await line.isOut(true)).toBe(false);
    expect(asked()).toBe(0);
  });
});
