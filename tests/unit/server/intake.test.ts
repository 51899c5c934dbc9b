import { join } from 'node:path';
import Database from 'better-sqlite3';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { ReportIntake } from '@/server/checkins/report-intake';
import { fetchReports } from '@/store/history/reports';
import { fetchWatch, saveWatchesPaused } from '@/store/watches/watches';
import { saveNewKey, saveSectionEndpoint, type CheckinEndpoint } from '@/store/watches/checkin-endpoints';
import { saveShared } from '@/store/watches/cascade';
import { saveNewSection } from '@/store/watches/sections';
import { makeWatch, periodConfig, tempStore, type TempStore } from '../../integration/helpers';
import { faultyDb, sqliteError } from '../faulty-db';

const T0 = Date.parse('2026-11-26T06:00:00Z');
const KEY = 'k'.repeat(32);
const SAID = {
  kind: 'done',
  code: 0,
  run: null,
  method: 'GET',
  address: '192.0.2.7',
  output: 'all aboard',
} as const;

describe('where reports arrive', () => {
  let store: TempStore;
  let faulty: ReturnType<typeof faultyDb>;
  let intake: ReportIntake;
  let now: number;
  let committed: number;
  let contacts: string[];
  let watchId: number;

  beforeEach(async () => {
    store = await tempStore();
    faulty = faultyDb(store.db);
    [now, committed, contacts] = [T0, 0, []];
    watchId = await makeWatch(store.db, periodConfig(60, 10), { createdAt: T0, checkinKey: KEY });
    intake = new ReportIntake({
      db: faulty.db,
      now: () => now,
      onCommitted: () => (committed += 1),
      makeFirstContact: async (_, name) => {
        contacts.push(name);
        return null;
      },
    });
  });
  afterEach(() => store.close());

  const door = (path = KEY) => intake.doorOf(path, '192.0.2.7');
  const kept = async () => (await fetchReports(store.db, watchId, { limit: 100 })).map((one) => one.output);

  it('a report is there when it is answered', async () => {
    const there = (await door())!;
    let answered = false;
    const keeping = intake.keep(there, SAID).then(() => (answered = true));
    expect(answered).toBe(false);
    await keeping;
    expect(await kept()).toEqual(['all aboard']);
    expect(committed).toBe(1);
  });

  it('reports that gather go into one commit, and all are there', async () => {
    const there = (await door())!;
    const before = faulty.tries();
    await Promise.all(Array.from({ length: 20 }, () => intake.keep(there, SAID)));
    expect(faulty.tries() - before).toBe(1);
    expect(await kept()).toHaveLength(20);
  });

  it('what cannot be kept is refused, and noted since when', async () => {
    const there = (await door())!;
    faulty.refuse(sqliteError('SQLITE_IOERR'));
    now = T0 + 5000;
    await expect(intake.keep(there, SAID)).rejects.toThrow('SQLITE_IOERR');
    now = T0 + 9000;
    await expect(intake.keep(there, SAID)).rejects.toThrow();
    expect(intake.failingSince).toBe(T0 + 5000);
    faulty.refuse(null);
    await intake.keep(there, SAID);
    expect(await kept()).toHaveLength(1);
  });

  it('on a full disk what was done is kept without what was printed', async () => {
    const there = (await door())!;
    // There is room for a little, not for output.
    faulty.refuse(sqliteError('SQLITE_FULL'), 1);
    await intake.keep(there, SAID);
    expect(await kept()).toEqual([null]);
    expect(intake.failingSince).toBeNull();
  });

  it('while somebody else writes the thread goes on, and the report is kept once that is over', async () => {
    const there = (await door())!;
    const other = new Database(join(store.folder, 'lantern.db'));
    other.exec('BEGIN IMMEDIATE');
    let answered = false;
    const keeping = intake.keep(there, SAID).then(() => (answered = true));
    // Held by this very thread: whoever waits for it without letting go of the thread waits in vain.
    await new Promise((resolve) => setTimeout(resolve, 30));
    expect(answered).toBe(false);
    expect(await door()).toMatchObject({ watchId });
    other.exec('ROLLBACK');
    await keeping;
    expect(await kept()).toHaveLength(1);
    other.close();
  });

  it('what is looked up while keys change is not what is known afterwards', async () => {
    const looking = door();
    await saveNewKey(store.db, watchId, 'n'.repeat(32), T0 + 60_000);
    intake.forgetKeys();
    await looking;
    expect(await door()).toMatchObject({ oldUntil: T0 + 60_000 });
  });

  it('the first report of each job costs one statement, once what is set for many is known', async () => {
    const keys = ['a', 'b', 'c'].map((letter) => letter.repeat(32));
    for (const checkinKey of keys) {
      await makeWatch(store.db, periodConfig(60, 10), { createdAt: T0, checkinKey });
    }
    await door(keys[0]);
    let queries = 0;
    store.db.on('query', () => (queries += 1));
    const before = faulty.tries();
    await door(keys[1]);
    await door(keys[2]);
    expect([queries, faulty.tries() - before]).toEqual([0, 2]);
    // What nobody has been told of leads nowhere, by the key of now and that of before.
    expect(await door('d'.repeat(32))).toBeNull();
    expect([queries, faulty.tries() - before]).toEqual([0, 4]);
  });

  it('what is set for many holds, and anew once it was changed', async () => {
    await saveShared(store.db, { level: 'kind', kind: 'checkin' }, { methods: 'post' });
    expect(await door()).toMatchObject({ methods: 'post' });
    const other = await makeWatch(store.db, periodConfig(60, 10), {
      createdAt: T0,
      checkinKey: 'o'.repeat(32),
    });
    expect(await door('o'.repeat(32))).toMatchObject({ watchId: other, methods: 'post' });
    await saveShared(store.db, { level: 'kind', kind: 'checkin' }, {});
    intake.forgetKeys();
    expect(await door('o'.repeat(32))).toMatchObject({ methods: 'any' });
  });

  it('a key leads where it led a moment ago, until it is changed', async () => {
    expect(await door()).toMatchObject({ watchId, oldUntil: null });
    await saveNewKey(store.db, watchId, 'n'.repeat(32), T0 + 60_000);
    // From memory, until it is said that keys changed.
    expect(await door()).toMatchObject({ oldUntil: null });
    intake.forgetKeys();
    expect(await door()).toMatchObject({ watchId, oldUntil: T0 + 60_000 });
    expect(await door('n'.repeat(32))).toMatchObject({ watchId, oldUntil: null });
    now = T0 + 59_999;
    expect(await door()).toMatchObject({ watchId });
    now = T0 + 60_000;
    expect(await door()).toBeNull();
  });

  it('the use of an old key is noted, at most once a minute', async () => {
    await saveNewKey(store.db, watchId, 'n'.repeat(32), T0 + 600_000);
    const usedAt = async () => (await fetchWatch(store.db, watchId))!.oldKey!.usedAt;
    await intake.keep((await door('n'.repeat(32)))!, SAID);
    expect(await usedAt()).toBeNull();
    await intake.keep((await door())!, SAID);
    expect(await usedAt()).toBe(T0);
    now = T0 + 59_999;
    await intake.keep((await door())!, SAID);
    expect(await usedAt()).toBe(T0);
    now = T0 + 60_000;
    await intake.keep((await door())!, SAID);
    expect(await usedAt()).toBe(T0 + 60_000);
  });

  it('memory of keys has an end', async () => {
    const doors = (intake as unknown as { doors: Map<string, CheckinEndpoint> }).doors;
    const there = (await door())!;
    for (let i = 0; i < 20_000; i += 1) doors.set(`key-${i}`, there);
    await saveWatchesPaused(store.db, [watchId], false);
    doors.delete(KEY);
    expect(await door()).toMatchObject({ watchId });
    expect(doors.size).toBe(1);
  });

  it('what is no key leads nowhere and is not asked for', async () => {
    for (const path of ['', 'short', 'a b'.repeat(10), '../'.repeat(8), 'k'.repeat(65)]) {
      expect(await door(path)).toBeNull();
    }
  });

  it('unknown names make a check-in only where a section is open to new ones', async () => {
    const secret = 's'.repeat(24);
    const id = await saveNewSection(store.db, 'Office server');
    await saveSectionEndpoint(store.db, id, { secret, mostNew: 0 });
    expect(await door(`${secret}/manifest`)).toBeNull();
    expect(contacts).toEqual([]);
    await saveSectionEndpoint(store.db, id, { secret, mostNew: 1 });
    expect(await door(`${secret}/manifest`)).toBeNull();
    expect(contacts).toEqual(['manifest']);
    expect(await door(`${'x'.repeat(24)}/manifest`)).toBeNull();
    expect(contacts).toHaveLength(1);
  });

  describe('slows senders down', () => {
    /** The waits that were asked for; none of them takes any time. */
    function waits(): number[] {
      const asked: number[] = [];
      vi.spyOn(globalThis, 'setTimeout').mockImplementation(((then: () => void, ms: number) => {
        asked.push(ms);
        then();
      }) as never);
      return asked;
    }
    afterEach(() => void vi.restoreAllMocks());

    it('who guess, and nobody else', async () => {
      const asked = waits();
      for (let i = 0; i < 20; i += 1) await intake.slowMistakes('192.0.2.66');
      expect(asked).toEqual([]);
      for (let i = 0; i < 20; i += 1) await intake.slowMistakes('192.0.2.66');
      expect(asked.length).toBeGreaterThan(10);
      expect(Math.max(...asked)).toBeLessThanOrEqual(5000);
      const before = asked.length;
      await intake.slowMistakes('192.0.2.7');
      expect(asked).toHaveLength(before);
    });

    it('who flood one check-in, for that one', async () => {
      const there = (await door())!;
      const asked = waits();
      for (let i = 0; i < 300; i += 1) await intake.slowReports('192.0.2.7', there);
      expect(asked).toEqual([]);
      for (let i = 0; i < 300; i += 1) await intake.slowReports('192.0.2.7', there);
      expect(asked.length).toBeGreaterThan(100);
      expect(Math.max(...asked)).toBeLessThanOrEqual(2000);
      const before = asked.length;
      await intake.slowReports('192.0.2.7', { ...there, watchId: watchId + 1 });
      expect(asked).toHaveLength(before);
    });
  });
});
