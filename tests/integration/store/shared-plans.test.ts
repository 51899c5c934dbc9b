import type { Knex } from 'knex';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { RIGHTS } from '@/cases/frame/right';
import type { Principal } from '@/cases/frame/principal';
import type { World } from '@/cases/frame/world';
import { changeSharedSettings } from '@/cases/watches/shared-settings';
import { shippedForKinds } from '@/probes/kinds/registry';
import { saveShared, saveShipped } from '@/store/watches/cascade';
import { fetchOwnSettingsMark } from '@/store/watches/own-settings-mark';
import { deleteWatches, fetchWatch, saveNewWatch, saveWatchChange } from '@/store/watches/watches';
import { tempStore, type TempStore } from '../helpers';

const ACCOUNT = { id: 1, email: 'ines@ternferry.test' };
const INES: Principal = { type: 'account', account: ACCOUNT, sessionId: 1, rights: new Set(RIGHTS) };

describe('a shared setting that is changed while others go on', () => {
  let store: TempStore;
  let kiosk: number;
  let told: number[];
  /** What somebody else does once the change has been worked out, before it is written. */
  let meanwhile: () => Promise<unknown>;

  const make = (name: string) =>
    saveNewWatch(store.db, {
      ...{ kind: 'port', name, section: null, checkinKey: null, createdAt: 0 },
      config: { type: 'probe', settings: { host: 'kiosk.ternferry.test', port: 443 } },
    });

  beforeEach(async () => {
    store = await tempStore();
    await saveShipped(store.db, shippedForKinds(), {});
    kiosk = await make('Ticket kiosk');
    [told, meanwhile] = [[], () => Promise.resolve()];
  });
  afterEach(() => store.close());

  const change = async (set: object) => {
    const db = new Proxy(store.db, {
      get: (target, name) =>
        name === 'transaction'
          ? async (body: (trx: Knex.Transaction) => Promise<unknown>) => {
              await meanwhile();
              return target.transaction(body);
            }
          : (Reflect.get(target, name) as unknown),
    });
    const call = (_: string, { watchIds }: { watchIds: number[] }) => Promise.resolve(told.push(...watchIds));
    const world = { db, now: () => 0, forgetKeys: () => undefined, engine: { call } } as unknown as World;
    const body = { level: 'instance', ...set };
    return changeSharedSettings(INES, { body, expected: null as never }, world);
  };

  it('reaches a watch that came meanwhile, and tells the engine of it', async () => {
    let camera = 0;
    meanwhile = async () => (camera = await make('Harbour camera'));
    const { watches } = await change({ timeoutSeconds: 7 });
    expect(watches.map(({ id }) => id).sort()).toEqual([kiosk, camera].sort());
    expect(told.sort()).toEqual([kiosk, camera].sort());
    expect((await fetchWatch(store.db, camera))!.config).toMatchObject({ timeout: 7 });
  });

  it('leaves one alone that has said otherwise meanwhile', async () => {
    const { name, section, own } = (await fetchWatch(store.db, kiosk))!;
    const config = { ...own, timeout: 3 } as typeof own;
    meanwhile = () => saveWatchChange(store.db, kiosk, { name, section, config });
    expect((await change({ timeoutSeconds: 7 })).watches).toEqual([]);
    expect(told).toEqual([]);
  });

  it('is refused where what it rests on has gone meanwhile', async () => {
    const router = await make('Router');
    meanwhile = () => deleteWatches(store.db, [router], 1);
    await expect(change({ restsOn: [router] })).rejects.toMatchObject({ code: 'input.invalid' });
    expect((await fetchWatch(store.db, kiosk))!.config.restsOn).toEqual([]);
  });

  it('is put upon what somebody else has set meanwhile', async () => {
    meanwhile = () => saveShared(store.db, { level: 'instance' }, { secondLooks: 4 });
    await change({ timeoutSeconds: 7 });
    expect((await fetchWatch(store.db, kiosk))!.config).toMatchObject({ timeout: 7, secondLooks: 4 });
  });

  it('goes by a mark that is another one with each change to a watch, and the same without', async () => {
    const marks = [await fetchOwnSettingsMark(store.db)];
    const { name, section, own } = (await fetchWatch(store.db, kiosk))!;
    const next = async (work: () => Promise<unknown>) => {
      await work();
      marks.push(await fetchOwnSettingsMark(store.db));
    };
    await next(() => saveWatchChange(store.db, kiosk, { name: 'Kiosk', section, config: own }));
    await next(() => saveWatchChange(store.db, kiosk, { name, section: 'Piers', config: own }));
    await next(() =>
      saveWatchChange(store.db, kiosk, {
        name,
        section: 'Piers',
        config: { ...own, timeout: 2 } as typeof own,
      }),
    );
    await next(() => make('Rota'));
    await next(() => deleteWatches(store.db, [kiosk], 1));
    expect(new Set(marks).size).toBe(marks.length);
    await store.db('watch_status').update({ state: 'up' });
    expect(await fetchOwnSettingsMark(store.db)).toBe(marks.at(-1));
  });
});
