import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { ProofOfLifeSender } from '@/engine/own/proof-of-life';
import { openVault } from '@/store/db/vault';
import { saveNewChannel } from '@/store/messages/channels';
import { fetchLetterFacts } from '@/store/messages/letter-facts';
import { fetchLastCall, saveProofOfLife, type ProofOfLife } from '@/store/messages/proof-of-life';
import { fetchDeliveries } from '@/store/messages/sent';
import { makeWatch, periodConfig, tempStore, type TempStore } from '../../integration/helpers';
import { answeringRoom } from '../channels/answering';

const T0 = Date.parse('2026-11-26T06:00:00Z');
const HOUR = 3_600_000;
const EVERY = [1, 2, 3, 4, 5, 6, 7];

describe('proof of life', () => {
  const elsewhere = answeringRoom();
  let store: TempStore;
  let sender: ProofOfLifeSender;
  let now: number;
  let monotonic: number;
  let well: boolean;
  let channelId: number;

  beforeEach(async () => {
    store = await tempStore();
    [now, monotonic, well] = [T0, 1_000_000, true];
    const channel = { kind: 'webhook', name: 'Crew room', settings: {}, enabled: true, createdAt: T0 };
    channelId = await saveNewChannel(store.db, channel);
    sender = newSender();
  });
  afterEach(() => store.close());

  function newSender(): ProofOfLifeSender {
    return new ProofOfLifeSender({
      db: store.db,
      vault: openVault(store.folder),
      zone: 'UTC',
      now: () => now,
      monotonic: () => monotonic,
      isWell: () => well,
      onSaid: () => undefined,
      onError: (error) => {
        throw error;
      },
      signal: new AbortController().signal,
    });
  }

  async function set(change: Partial<ProofOfLife>): Promise<void> {
    await saveProofOfLife(store.db, { letter: null, call: null, since: T0, ...change });
    await sender.load();
  }
  /** Lets so much time pass, second by second where it matters to nobody in between. */
  const pass = (ms: number) => {
    now += ms;
    monotonic += ms;
    sender.tick();
  };
  const letters = async () => (await fetchDeliveries(store.db, { limit: 100 })).map(({ title }) => title);
  const settled = () => new Promise((resolve) => setTimeout(resolve, 40));

  it('is called as often as it is set, and what was answered is kept', async () => {
    await set({ call: { address: `${elsewhere.base}/in/the-key`, every: 60 } });
    sender.tick();
    await vi.waitFor(() => expect(elsewhere.asked).toHaveLength(1));
    expect(elsewhere.asked[0]).toMatchObject({ method: 'GET', url: '/in/the-key', body: '' });
    await vi.waitFor(async () =>
      expect(await fetchLastCall(store.db)).toEqual({ at: T0, ok: true, said: '200' }),
    );
    pass(59_000);
    await settled();
    expect(elsewhere.asked).toHaveLength(1);
    elsewhere.answer = () => ({ status: 404, body: 'no such key' });
    pass(1_000);
    await vi.waitFor(async () =>
      expect(await fetchLastCall(store.db)).toMatchObject({ ok: false, said: '404 no such key' }),
    );
  });

  it('stays away while all is not well here', async () => {
    await set({ call: { address: elsewhere.base, every: 60 } });
    well = false;
    pass(600_000);
    await settled();
    expect(elsewhere.asked).toEqual([]);
    well = true;
    pass(1000);
    await vi.waitFor(() => expect(elsewhere.asked).toHaveLength(1));
  });

  it('names jobs that got slower, and reads few of their runs for it', async () => {
    const id = await makeWatch(store.db, periodConfig(3600, 600), { name: 'Backup', createdAt: T0 });
    const calm = await makeWatch(store.db, periodConfig(3600, 600), { name: 'Calm', createdAt: T0 });
    const run = (watch: number, hoursAgo: number, ms: number | null) => ({
      watch_id: watch,
      at: T0 - hoursAgo * 3_600_000,
      kind: 'done',
      method: 'POST',
      address: '192.0.2.7',
      run_ms: ms,
    });
    const rows = Array.from({ length: 400 }, (_, hours) => [
      run(id, hours + 1, hours < 20 ? 120_000 : 60_000),
      run(calm, hours + 1, 60_000),
      run(id, hours + 0.5, null),
    ]).flat();
    await store.db.batchInsert('reports', rows as never, 50);
    const facts = await fetchLetterFacts(store.db, { from: T0 - 24 * 3_600_000, until: T0 });
    expect(facts.slower).toEqual([{ name: 'Backup', ms: 120_000, beforeMs: 60_000 }]);
    const [{ detail }] = (await store.db.raw(
      'EXPLAIN QUERY PLAN SELECT run_ms FROM reports WHERE watch_id = 1 AND run_ms IS NOT NULL ORDER BY at DESC LIMIT 9',
    )) as [{ detail: string }];
    expect(detail).toContain('reports_runs');
  });

  it('is a letter at its time, once, also after a start', async () => {
    await makeWatch(store.db, periodConfig(60, 10), { createdAt: T0 });
    await set({ letter: { channelId, days: EVERY, at: '07:00' } });
    pass(HOUR - 1000);
    await settled();
    expect(await letters()).toEqual([]);
    pass(30_000);
    await vi.waitFor(async () => expect(await letters()).toEqual(['All is well']));
    pass(60_000);
    sender = newSender();
    await sender.load();
    pass(60_000);
    await settled();
    expect(await letters()).toHaveLength(1);
    pass(24 * HOUR);
    await vi.waitFor(async () => expect(await letters()).toHaveLength(2));
  });

  it('is not written for a time before it was set, nor long after its time', async () => {
    now = T0 + 2 * HOUR;
    await set({ letter: { channelId, days: EVERY, at: '07:00' }, since: now });
    pass(60_000);
    await settled();
    expect(await letters()).toEqual([]);
    // Asleep for most of a day, past the next time by more than half a day.
    pass(36 * HOUR);
    await settled();
    expect(await letters()).toEqual([]);
  });
});
