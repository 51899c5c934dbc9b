import {
  chmodSync,
  existsSync,
  readdirSync,
  readFileSync,
  renameSync,
  rmSync,
  statSync,
  writeFileSync,
} from 'node:fs';
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import {
  countLocked,
  ensureSecret,
  isKeyLost,
  isSealed,
  openSecrets,
  openVault,
  openWhatOpens,
  prepareKeys,
  takeKeyAsRight,
} from '@/store/db/vault';
import { tempStore, type TempStore } from '../helpers';

const SECRET = 'the tide waits for nobody';

describe('the vault of a data folder', () => {
  let store: TempStore;
  let folder: string;
  beforeEach(async () => {
    store = await tempStore();
    ({ folder } = store);
  });
  afterEach(async () => {
    vi.restoreAllMocks();
    await store.close();
  });

  const keys = () => readdirSync(folder).filter((name) => name.endsWith('.key'));
  const file = (name = 'secrets.key') => join(folder, name);
  const away = () => renameSync(file(), file('kept-elsewhere'));
  const back = () => renameSync(file('kept-elsewhere'), file());
  const saveRoom = (settings: object) =>
    store
      .db('channels')
      .insert({ kind: 'webhook', name: 'Crew room', settings: JSON.stringify(settings), created_at: 1 });

  it('seals so that only its key opens, and each time anew', () => {
    const vault = openVault(folder);
    const [one, two] = [vault.seal(SECRET), vault.seal(SECRET)];
    expect(one).not.toBe(two);
    for (const sealed of [one, two]) {
      expect(sealed).toMatch(/^sealed:1:[\w-]{60,}$/);
      expect(isSealed(sealed)).toBe(true);
      expect(vault.open(sealed)).toBe(SECRET);
      expect(openVault(folder).open(sealed)).toBe(SECRET);
    }
    const changed = one.replace(/.$/, (last) => (last === 'A' ? 'Q' : 'A'));
    expect(() => vault.open(changed)).toThrow(
      'a secret cannot be opened with the key in secrets.key; enter it again, or put the old key file back',
    );
  });

  it('leaves nothing as nothing, and what was never sealed as it is', () => {
    const vault = openVault(folder);
    expect(vault.seal('')).toBe('');
    expect(vault.open('')).toBe('');
    expect(vault.open(SECRET)).toBe(SECRET);
    expect([SECRET, '', null, 7].map(isSealed)).toEqual([false, false, false, false]);
  });

  it('makes one key, which only its owner may read, and keeps it', () => {
    openVault(folder);
    const made = readFileSync(file(), 'utf8');
    expect(Buffer.from(made, 'base64')).toHaveLength(32);
    chmodSync(file(), 0o644);
    openVault(folder);
    expect(keys()).toEqual(['secrets.key']);
    expect(readFileSync(file(), 'utf8')).toBe(made);
    expect((statSync(file()).mode & 0o777).toString(8)).toBe('600');
  });

  it('goes on with a key of another name beside one that was cut short', () => {
    writeFileSync(file(), 'c2hvcnQ=');
    const vault = openVault(folder);
    expect(keys()).toHaveLength(2);
    expect(readFileSync(file(), 'utf8')).toBe('c2hvcnQ=');
    expect(openVault(folder).open(vault.seal(SECRET))).toBe(SECRET);
    expect(keys().find((name) => name !== 'secrets.key')).toMatch(/^secrets-[0-9a-f]{6}\.key$/);
  });

  it('looks for a key that was put back, now and then', () => {
    const clock = vi.spyOn(performance, 'now').mockReturnValue(0);
    const sealed = openVault(folder).seal(SECRET);
    away();
    const vault = openVault(folder);
    const meanwhile = vault.seal('meanwhile');
    // The one it goes on with takes the place of the old one only here: nobody asked what had been sealed.
    renameSync(file(), file('secrets-aaaaaa.key'));
    back();
    clock.mockReturnValue(5000);
    expect(() => vault.open(sealed)).toThrow('cannot be opened');
    clock.mockReturnValue(5001);
    expect(vault.open(sealed)).toBe(SECRET);
    expect(vault.open(meanwhile)).toBe('meanwhile');
    // What is sealed from now on is sealed with the one in the first place.
    rmSync(file('secrets-aaaaaa.key'));
    expect(openVault(folder).open(vault.seal('after'))).toBe('after');
  });

  it('is told to have lost its key only where something was sealed with another', async () => {
    const vault = openVault(folder);
    expect(await isKeyLost(store.db, vault)).toBe(false);
    expect(await isKeyLost(store.db, openVault(folder))).toBe(false);
    away();
    const without = openVault(folder);
    expect(await isKeyLost(store.db, without)).toBe(true);
    await takeKeyAsRight(store.db, without);
    expect(await isKeyLost(store.db, without)).toBe(false);
  });

  it('tells by what a room has kept where no sample was kept before', async () => {
    const vault = openVault(folder);
    await saveRoom({ address: 'http://crew.ternferry.test/hook', token: vault.seal(SECRET) });
    away();
    const other = openVault(folder);
    expect(await isKeyLost(store.db, other)).toBe(true);
    rmSync(file());
    back();
    expect(await isKeyLost(store.db, openVault(folder))).toBe(false);
  });

  it('leaves the place of a missing key free, and goes on with another', async () => {
    await prepareKeys(store.db, folder);
    // Nothing was sealed: a first start.
    expect(keys()).toEqual([]);
    const vault = openVault(folder);
    expect(await isKeyLost(store.db, vault)).toBe(false);
    const sealed = vault.seal(SECRET);
    away();
    await prepareKeys(store.db, folder);
    expect(existsSync(file())).toBe(false);
    expect(keys()).toHaveLength(1);
    const meanwhile = openVault(folder).seal('meanwhile');
    await prepareKeys(store.db, folder);
    expect(keys()).toHaveLength(1);
    back();
    await prepareKeys(store.db, folder);
    const both = openVault(folder);
    expect([sealed, meanwhile].map(both.open)).toEqual([SECRET, 'meanwhile']);
    expect(keys()).toHaveLength(2);
  });

  it('keeps a copy of a wrong key, over which the right one may be put', async () => {
    const vault = openVault(folder);
    await isKeyLost(store.db, vault);
    const sealed = vault.seal(SECRET);
    away();
    const wrong = openVault(folder).seal('with the wrong one');
    for (let times = 0; times < 2; times += 1) await prepareKeys(store.db, folder);
    expect(keys()).toHaveLength(2);
    const copy = keys().find((name) => name !== 'secrets.key')!;
    expect(readFileSync(file(copy), 'utf8')).toBe(readFileSync(file(), 'utf8'));
    rmSync(file());
    await prepareKeys(store.db, folder);
    expect(keys()).toEqual([copy]);
    back();
    await prepareKeys(store.db, folder);
    expect(keys().sort()).toEqual([copy, 'secrets.key'].sort());
    expect([sealed, wrong].map(openVault(folder).open)).toEqual([SECRET, 'with the wrong one']);
  });

  it('counts what no key opens', async () => {
    const vault = openVault(folder);
    await saveRoom({ address: 'http://crew.ternferry.test/hook' });
    await saveRoom({ token: vault.seal(SECRET), address: vault.seal('elsewhere') });
    expect(await countLocked(store.db, vault)).toBe(0);
    away();
    const other = openVault(folder);
    await saveRoom({ token: other.seal(SECRET) });
    expect(await countLocked(store.db, other)).toBe(1);
    const page = {
      slug: 'ferries',
      title: 'Ferries',
      intro: '',
      sections: '[]',
      settings: '{}',
      created_at: 1,
    };
    await store.db('pages').insert({ ...page, copy_password: vault.seal(SECRET) });
    expect(await countLocked(store.db, other)).toBe(2);
  });

  it('makes a secret of the desk’s own once', async () => {
    const vault = openVault(folder);
    const make = vi.fn(() => SECRET);
    expect(await ensureSecret(store.db, vault, 'own_secret', make)).toBe(SECRET);
    expect(await ensureSecret(store.db, vault, 'own_secret', () => 'another')).toBe(SECRET);
    expect(make).toHaveBeenCalledTimes(1);
    const row = await store.db('settings').where('key', 'own_secret').first();
    expect(isSealed(row?.value)).toBe(true);
  });

  it('opens all that is sealed among settings, or all that opens', () => {
    const vault = openVault(folder);
    const plain = { address: 'http://crew.ternferry.test/hook', tries: 3 };
    expect(openSecrets(vault, plain)).toBe(plain);
    const sealed = { ...plain, token: vault.seal(SECRET) };
    expect(openSecrets(vault, sealed)).toEqual({ ...plain, token: SECRET });
    expect(openWhatOpens(vault, sealed)).toEqual({ ...plain, token: SECRET });
    away();
    const other = openVault(folder);
    expect(() => openSecrets(other, sealed)).toThrow('cannot be opened');
    expect(openWhatOpens(other, sealed)).toEqual({ ...plain, token: '' });
  });
});
