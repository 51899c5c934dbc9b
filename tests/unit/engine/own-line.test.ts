import type { LookupFunction } from 'node:net';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { Uplink } from '@/engine/own/uplink';
import { UplinkMonitor } from '@/engine/own/uplink-monitor';
import { saveUplinkAddresses } from '@/store/history/uplink';
import { saveWatchesPaused } from '@/store/watches/watches';
import { makeWatch, periodConfig, tempStore, webConfig, type TempStore } from '../../integration/helpers';
import { registryOn } from './registry-on';

type Leads = (name: string) => boolean | Promise<boolean>;

function lookupThat(leads: Leads): LookupFunction {
  return (name, options, done) => {
    void Promise.resolve(leads(name)).then((there) => {
      if (!there) done(Object.assign(new Error(name), { code: 'ENOTFOUND' }), '');
      else if (options.all) done(null, [{ address: '127.0.0.1', family: 4 }]);
      else done(null, '127.0.0.1', 4);
    });
  };
}

/** A line whose one address leads to this machine, where a refusal comes from, or nowhere. */
function lineThat(leads: Leads) {
  let now = 1_000_000;
  const changes: boolean[] = [];
  let asked = 0;
  const lookup = lookupThat((name) => {
    asked += 1;
    return leads(name);
  });
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

  it('is lost only while all of its addresses fail', async () => {
    const there = new Set(['one.test']);
    const { line } = lineThat((name) => there.has(name));
    line.set(['one.test:1', 'two.test:1']);
    expect(await line.isOut(true)).toBe(false);
    there.clear();
    expect(await line.isOut(true)).toBe(true);
  });

  it('that was lost before a restart is back once there is nothing left to ask', async () => {
    const { line, changes, later } = lineThat(() => false);
    line.resume(1);
    line.set([]);
    later(5000);
    expect(await line.isOut(true)).toBe(false);
    expect(changes).toEqual([false]);
  });
});

describe('a line that is back', () => {
  let store: TempStore;
  beforeEach(async () => {
    store = await tempStore();
  });
  afterEach(() => store.close());

  it('holds nothing against check-ins, and has all others looked at again but those that are paused', async () => {
    const T0 = Date.parse('2026-11-26T06:00:00Z');
    let there = false;
    let now = T0;
    const ids = [
      await makeWatch(store.db, periodConfig(60, 10), { createdAt: T0, checkinKey: 'k'.repeat(32) }),
      await makeWatch(store.db, webConfig('http://site.test/'), { createdAt: T0 }),
      await makeWatch(store.db, webConfig('http://rest.test/'), { createdAt: T0 }),
    ];
    await saveWatchesPaused(store.db, [ids[2]!], true);
    await saveUplinkAddresses(store.db, ['gate.test:1']);
    const applied: [number, unknown][] = [];
    const lookedAt: number[] = [];
    const onError = (error: unknown) => {
      throw error;
    };
    const registry = registryOn(store.db, () => now);
    await registry.load();
    vi.spyOn(registry, 'apply').mockImplementation((id, input) => void applied.push([id, input]));
    const monitor = new UplinkMonitor({
      db: store.db,
      registry,
      now: () => now,
      monotonic: () => now,
      lookup: lookupThat(() => there),
      signal: new AbortController().signal,
      onNews: () => undefined,
      onMessage: () => undefined,
      lookAgain: (id) => lookedAt.push(id),
      onError,
    });
    await monitor.load();
    expect(await monitor.isOut(true)).toBe(true);
    expect([applied, lookedAt]).toEqual([[], []]);
    [there, now] = [true, T0 + 60_000];
    expect(await monitor.isOut(true)).toBe(false);
    expect(applied).toEqual([[ids[0], { type: 'gap', from: T0, to: T0 + 60_000 }]]);
    expect(lookedAt).toEqual([ids[1]]);
  });
});
