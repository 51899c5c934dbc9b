import { beforeEach, describe, expect, it } from 'vitest';
import type { Finding } from '@/core/causes/finding';
import type { ProbeConfig } from '@/core/settings/watch-config';
import { WatchLooker } from '@/engine/looks/watch-looker';
import { webConfig } from '../../integration/helpers';

const T0 = Date.parse('2026-11-20T08:00:00Z');
const FAILED = { at: T0, ms: 3, verdict: 'failed', cause: 'port.refused', detail: { port: 9 } } as Finding;

describe('a look that failed', () => {
  /** What the engine knows of the watch, and what comes of a look. */
  let known: { outage: boolean; isNews: boolean; isLineOut: boolean; config: ProbeConfig; below: number[] };
  let finding: Finding;
  let asked: boolean[];
  let soon: number[];
  let planned: number[];
  let found: Finding[];
  beforeEach(() => {
    const config = webConfig('http://site.test/') as ProbeConfig;
    known = { outage: false, isNews: true, isLineOut: false, config, below: [] };
    finding = FAILED;
    [asked, soon, planned, found] = [[], [], [], []];
  });

  const look = async (meanwhile = () => undefined as void) => {
    const registry = {
      get: (id: number) => ({
        watch: { id, kind: 'unheard-of', config: known.config },
        status: { outage: id === 1 && known.outage ? { began: T0 } : null, failing: id === 3 },
      }),
      isNews: () => known.isNews,
      apply: (_: number, input: { finding: Finding }) => found.push(input.finding),
      ties: { belowOf: () => known.below },
    };
    const looker = new WatchLooker({
      registry,
      planner: {
        lookSoon: async (id: number) => soon.push(id),
        planAfter: (_: object, at: number) => planned.push(at),
      },
      threads: {
        look: async () => {
          meanwhile();
          return finding;
        },
      },
      runner: { now: () => T0 - 5, signal: new AbortController().signal },
      isLineOut: async (anew: boolean) => {
        asked.push(anew);
        return known.isLineOut;
      },
      onFinding: () => undefined,
    } as never);
    await looker.look(1);
  };

  it('asks anew whether the own line is out, but where the outage is known and this is no news of it', async () => {
    await look();
    known.isNews = false;
    await look();
    known.outage = true;
    await look();
    known.isNews = true;
    await look();
    expect(asked).toEqual([true, true, false, true]);
    expect(found).toEqual([FAILED, FAILED, FAILED, FAILED]);
    expect(planned).toEqual([T0, T0, T0, T0]);
  });

  it('counts for nothing while the own line is out, and keeps its time', async () => {
    known.isLineOut = true;
    await look();
    expect(found).toEqual([{ at: T0, ms: 3, verdict: 'failed', cause: 'look.no-line', detail: {} }]);
  });

  it('has what the watch rests on looked at first, where that is news and does not fail already', async () => {
    known.below = [2, 3];
    known.isNews = false;
    await look();
    expect(soon).toEqual([]);
    known.isNews = true;
    await look();
    expect(soon).toEqual([2]);
  });

  it('is not doubted where it is this machine’s own fault, and where it went well', async () => {
    finding = { ...FAILED, cause: 'look.broken' } as Finding;
    await look();
    finding = { at: T0, ms: 3, verdict: 'fine' };
    await look();
    expect(asked).toEqual([]);
    expect(found).toHaveLength(2);
  });

  it('is left out where the watch looks for something else by now, and planned all the same', async () => {
    await look(() => void (known.config = { ...known.config, timeout: 7 }));
    expect(found).toEqual([]);
    expect(planned).toEqual([T0]);
    await look(() => void (known.config = { ...known.config }));
    expect(found).toEqual([FAILED]);
  });
});
