import fc from 'fast-check';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { hearersOf } from '@/core/telling/ahead/heard';
import { covers, type Route, type Selection } from '@/core/telling/route';
import { USUAL_FOLDING } from '@/core/telling/telling';
import type { OwnConfig } from '@/core/settings/cascade';
import { saveShared } from '@/store/watches/cascade';
import { fetchWatchFacts } from '@/store/watches/watch-facts';
import { fetchInOrderOfNames, fetchWatchesAlike } from '@/store/watches/watches-alike';
import { deleteWatches, saveNewWatch, saveWatchesPaused } from '@/store/watches/watches';
import { tempStore, type TempStore } from '../helpers';
import { tries } from '../../unit/tries';

const SECTIONS = [null, 'Piers', 'Crew house'];
const TAGS = [[], ['quay'], ['boats', 'quay'], ['two, words']];
const KINDS = ['web', 'port', 'checkin'];
const TELLING: object[] = [
  {},
  {},
  { tells: 'nobody' },
  { tells: 'besides', tellsTo: [2] },
  { tells: 'instead', tellsTo: [1, 2] },
  { tellsTo: [1] },
];
const WATCHES = 90;
/** So many of them differ in what a route may look at. */
const SORTS = 24;

const group = fc.record({
  sections: fc.subarray(['', 'Piers', 'Crew house'], { maxLength: 2 }),
  tags: fc.subarray(['quay', 'boats', 'two, words', 'two'], { maxLength: 1 }),
  kinds: fc.subarray(KINDS, { maxLength: 1 }),
  ids: fc.uniqueArray(fc.integer({ min: 1, max: WATCHES + 3 }), { maxLength: 4 }),
});
const about = (selections: readonly Selection[]) => selections.map((watches) => ({ watches }));
const selection: fc.Arbitrary<Selection> = fc
  .tuple(group, group, fc.boolean())
  .map(([some, except, all]) => ({ ...some, all, except }));

describe('watches that routes cannot tell apart', () => {
  let store: TempStore;
  beforeAll(async () => {
    store = await tempStore();
    const pick = <T>(from: readonly T[], i: number) => from[i % from.length]!;
    const schedule = { type: 'period' as const, everySeconds: 3600 };
    for (let i = 0; i < WATCHES; i += 1) {
      const sort = (i * 7) % SORTS;
      const kind = pick(KINDS, sort);
      const telling = pick(TELLING, sort);
      const config = kind === 'checkin' ? { type: 'checkin', schedule } : { type: 'probe', settings: {} };
      await saveNewWatch(store.db, {
        ...{ kind, name: `Watch ${(i * 37) % WATCHES}`, checkinKey: null, createdAt: 0 },
        section: pick(SECTIONS, Math.floor(sort / 3)),
        tags: pick(TAGS, Math.floor(sort / 2)),
        config: { ...config, ...telling } as OwnConfig,
      });
    }
    await saveShared(
      store.db,
      { level: 'section', section: 'Crew house' },
      { tells: 'besides', tellsTo: [3] },
    );
    await saveWatchesPaused(store.db, [4, 40], true);
    await deleteWatches(store.db, [5, 41], 1);
  });
  afterAll(() => store.close());

  it('are each there once, and far fewer together', async () => {
    const groups = await fetchWatchesAlike(store.db, []);
    const ids = groups.flatMap((one) => one.ids).sort((a, b) => a - b);
    expect(ids).toEqual((await fetchWatchFacts(store.db)).map(({ id }) => id).sort((a, b) => a - b));
    expect(ids).toHaveLength(WATCHES - 4);
    expect(groups.length).toBeLessThanOrEqual(SORTS);
  });

  it('are covered by a route, and heard by its channels, as each would be by itself', async () => {
    const facts = await fetchWatchFacts(store.db);
    await fc.assert(
      fc.asyncProperty(fc.array(selection, { minLength: 1, maxLength: 3 }), async (selections) => {
        const groups = await fetchWatchesAlike(store.db, about(selections));
        const routes = selections.map((watches, i): Route => ({
          ...{ id: i + 1, name: '', enabled: true, watches, topics: ['down', 'missed'] },
          ...{ againMs: null, againMost: null, hours: null },
          steps: [{ afterMs: 0, channels: [i + 1] }],
        }));
        const setup = { routes, channels: new Set([1, 2, 3]), folding: USUAL_FOLDING };
        for (const { facts: those, ids } of groups) {
          for (const id of ids) {
            const one = facts.find((watch) => watch.id === id)!;
            const told = selections.map((each) => covers(each, those));
            expect(selections.map((each) => covers(each, one))).toEqual(told);
            expect([...hearersOf(one, setup)].sort()).toEqual([...hearersOf(those, setup)].sort());
          }
        }
      }),
      { numRuns: tries(60) },
    );
  });

  it('are named in the order of their names, as many as are asked for', async () => {
    const all = (await fetchWatchFacts(store.db)).map(({ id }) => id);
    const shuffled = [...all].sort((a, b) => ((a * 7) % 11) - ((b * 7) % 11));
    const named = await fetchInOrderOfNames(store.db, shuffled);
    expect(named.map(({ id }) => id)).toEqual(all);
    expect(await fetchInOrderOfNames(store.db, shuffled, 3)).toEqual(named.slice(0, 3));
    expect(await fetchInOrderOfNames(store.db, [])).toEqual([]);
  });
});
