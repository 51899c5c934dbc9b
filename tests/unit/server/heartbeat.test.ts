import { join } from 'node:path';
import Database from 'better-sqlite3';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { IntakeHeartbeat } from '@/server/checkins/intake-heartbeat';
import * as gaps from '@/store/history/intake-gaps';
import { tempStore, type TempStore } from '../../integration/helpers';

const T0 = Date.parse('2026-11-26T06:00:00Z');

describe('the heartbeat of the front door', () => {
  let store: TempStore;
  let now: number;
  let noted: number;
  let errors: unknown[];
  const intake: { failingSince: number | null } = { failingSince: null };
  let heartbeat: IntakeHeartbeat;

  beforeEach(async () => {
    store = await tempStore();
    [now, noted, errors, intake.failingSince] = [T0, 0, [], null];
    heartbeat = new IntakeHeartbeat({
      db: store.db,
      now: () => now,
      intake,
      onGap: () => (noted += 1),
      onError: (error) => errors.push(error),
    });
  });
  afterEach(async () => {
    await store.close();
  });

  it('says until when it is known to have heard', async () => {
    await heartbeat.beat();
    now = T0 + 5000;
    await heartbeat.beat();
    expect(await gaps.fetchHeardUntil(store.db)).toBe(T0 + 5000);
    expect(await gaps.readIntakeGaps(store.db)).toEqual([]);
    expect(heartbeat.canKeep).toBe(true);
  });

  it('notes the time in which reports were refused as one in which nobody was heard', async () => {
    await heartbeat.beat();
    intake.failingSince = T0 + 1000;
    expect(heartbeat.canKeep).toBe(false);
    now = T0 + 4000;
    await heartbeat.beat();
    expect(await gaps.readIntakeGaps(store.db)).toEqual([{ from: T0 + 1000, to: T0 + 4000 }]);
    expect(await gaps.fetchHeardUntil(store.db)).toBe(T0 + 4000);
    expect([noted, intake.failingSince, heartbeat.canKeep]).toEqual([1, null, true]);
    now = T0 + 8000;
    await heartbeat.beat();
    expect(await gaps.readIntakeGaps(store.db)).toHaveLength(1);
  });

  it('stays silent while nothing can be written, and counts from its first try that failed', async () => {
    await heartbeat.beat();
    await store.db.raw('ALTER TABLE settings RENAME TO elsewhere');
    now = T0 + 3000;
    await heartbeat.beat();
    now = T0 + 6000;
    await heartbeat.beat();
    expect(errors).toHaveLength(2);
    expect(heartbeat.canKeep).toBe(false);
    await store.db.raw('ALTER TABLE elsewhere RENAME TO settings');
    now = T0 + 9000;
    await heartbeat.beat();
    expect(await gaps.readIntakeGaps(store.db)).toEqual([{ from: T0 + 3000, to: T0 + 9000 }]);
    expect(heartbeat.canKeep).toBe(true);
  });

  it('goes on while somebody else writes, and has heard all that time', async () => {
    await heartbeat.beat();
    const other = new Database(join(store.folder, 'lantern.db'));
    other.exec('BEGIN IMMEDIATE');
    now = T0 + 9000;
    const beat = heartbeat.beat();
    await new Promise((resolve) => setTimeout(resolve, 20));
    now = T0 + 18_000;
    other.exec('ROLLBACK');
    await beat;
    expect(await gaps.fetchHeardUntil(store.db)).toBe(T0 + 18_000);
    now = T0 + 22_000;
    await heartbeat.beat();
    expect(await gaps.readIntakeGaps(store.db)).toEqual([]);
    other.close();
  });

  it('beats once at a time, however long a beat takes', async () => {
    const beats = [heartbeat.beat(), heartbeat.beat()];
    expect(beats[0]).toBe(beats[1]);
    await Promise.all(beats);
    const next = heartbeat.beat();
    expect(next).not.toBe(beats[0]);
    await next;
  });
});
