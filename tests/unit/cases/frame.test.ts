import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { array, object, string } from 'yup';
import { deletes } from '@/cases/frame/deletes';
import { Refusal } from '@/cases/frame/refusal';
import { RIGHTS, type Right } from '@/cases/frame/right';
import { asks, changes } from '@/cases/frame/use-case';
import { validateBody } from '@/cases/frame/validate';
import { refuseChanged, refuseUnsaid, versionOf } from '@/cases/frame/version';
import type { Principal } from '@/cases/frame/principal';
import type { World } from '@/cases/frame/world';
import { fetchDeeds } from '@/store/access/deeds';
import { fetchSetting, saveSetting } from '@/store/db/settings';
import { testWorld } from '../test-world';
import { tempStore, type TempStore } from '../../integration/helpers';

const T0 = Date.parse('2026-11-26T06:00:00Z');

function somebody(...rights: Right[]): Principal {
  const account = { id: 7, email: 'ines@ternferry.test' };
  return { type: 'account', account, sessionId: 1, rights: new Set(rights) };
}

describe('one thing that can be done', () => {
  let store: TempStore;
  let world: World;
  const who = somebody(...RIGHTS);

  beforeEach(async () => {
    store = await tempStore();
    world = testWorld({ db: store.db, now: () => T0 });
  });
  afterEach(() => store.close());

  const setMotto = changes(
    'setMotto',
    'operate',
    ({ motto }: { motto: string }) => {
      if (motto === '') throw new Refusal('input.invalid', 'Expected a motto, got nothing.');
      return motto;
    },
    async ({ trx, about, afterwards, now }, motto) => {
      await saveSetting(trx as never, 'motto', motto);
      about({ kind: 'motto', id: null, name: motto });
      afterwards(() => told.push(`${motto} at ${now}`));
      if (motto === 'sink') throw new Error('sunk');
      return motto.length;
    },
  );
  let told: string[] = [];
  beforeEach(() => (told = []));

  it('is done, noted with who did it, and told', async () => {
    expect(await setMotto(who, { motto: 'sail' }, world)).toBe(4);
    expect(await fetchSetting(store.db, 'motto')).toBe('sail');
    expect(await fetchDeeds(store.db, { limit: 9 })).toMatchObject([
      {
        at: T0,
        deed: 'setMotto',
        by: { kind: 'account', id: 7, name: 'ines@ternferry.test' },
        subject: { kind: 'motto', id: null, name: 'sail' },
      },
    ]);
    expect(told).toEqual([`sail at ${T0}`]);
  });

  it('leaves nothing behind where it fails half way, and tells nobody', async () => {
    await expect(setMotto(who, { motto: 'sink' }, world)).rejects.toThrow('sunk');
    expect(await fetchSetting(store.db, 'motto')).toBeNull();
    expect(await fetchDeeds(store.db, { limit: 9 })).toEqual([]);
    expect(told).toEqual([]);
  });

  it('is refused without its right, and without anything being read', async () => {
    const bare = {
      get db(): never {
        throw new Error('touched');
      },
    } as unknown as World;
    const some = RIGHTS.filter((right) => right !== 'operate');
    await expect(setMotto(somebody(...some), { motto: 'sail' }, bare)).rejects.toMatchObject({
      code: 'right.missing',
    });
    const look = asks('lookAt', 'look', async () => 'seen');
    await expect(look(somebody('operate'), {}, bare)).rejects.toMatchObject({ code: 'right.missing' });
    expect([look.changes, setMotto.changes, look.right, setMotto.id]).toEqual([
      false,
      true,
      'look',
      'setMotto',
    ]);
  });

  it('is refused for what is wrong before anything is locked', async () => {
    await expect(setMotto(who, { motto: '' }, world)).rejects.toMatchObject({ code: 'input.invalid' });
  });

  it('tells only once it is kept, and what else belongs to it is kept with it', async () => {
    const seen: (string | null)[] = [];
    const slow = changes(
      'slow',
      'operate',
      (input: object) => input,
      async ({ trx, afterwards }) => {
        await saveSetting(trx as never, 'motto', 'kept');
        afterwards(async () => seen.push(await fetchSetting(store.db, 'motto')));
        return 'old';
      },
      async () => 'fresh',
    );
    const within: unknown[] = [];
    const out = await slow(who, {}, world, {
      within: async (trx, result) => void within.push(result, await fetchSetting(trx as never, 'motto')),
    });
    expect([seen, within, out]).toEqual([['kept'], ['old', 'kept'], 'fresh']);
    const failing = slow(who, {}, world, {
      within: () => Promise.reject(new Error('no room for the answer')),
    });
    await expect(failing).rejects.toThrow('no room');
    expect(seen).toHaveLength(1);
  });

  it('goes well although telling of it fails: all is kept by then', async () => {
    const errors: unknown[] = [];
    const loud = changes(
      'loud',
      'operate',
      (input: object) => input,
      async ({ trx, afterwards }) => {
        await saveSetting(trx as never, 'motto', 'kept');
        afterwards(() => {
          throw new Error('nobody hears');
        });
        afterwards(() => told.push('the next one is told'));
        return 'done';
      },
    );
    const out = await loud(who, {}, { ...world, onError: (error: unknown) => errors.push(error) } as World);
    expect(out).toBe('done');
    expect(told).toEqual(['the next one is told']);
    expect(errors).toMatchObject([{ message: 'nobody hears' }]);
  });

  it('deletes what is as it was read, and nothing else', async () => {
    let there = { id: 4, name: 'Quay' };
    const removed: number[] = [];
    const deleteQuay = deletes<typeof there, number>('deleteQuay', 'operate', {
      find: async () => there,
      version: versionOf,
      called: ({ name }) => `“${name}”`,
      remove: async (_, id) => removed.push(id),
      touched: ({ about }, { id, name }) => about({ kind: 'quay', id, name }),
    });
    const version = versionOf(there);
    there = { id: 4, name: 'New quay' };
    await expect(deleteQuay(who, { id: 4, expected: [version] }, world)).rejects.toMatchObject({
      code: 'state.changed',
      message: expect.stringContaining('Somebody has changed “New quay”') as string,
    });
    expect(removed).toEqual([]);
    await deleteQuay(who, { id: 4, expected: ['other', versionOf(there)] }, world);
    expect(removed).toEqual([4]);
    expect(await fetchDeeds(store.db, { limit: 9 })).toMatchObject([
      { deed: 'deleteQuay', subject: { name: 'New quay' } },
    ]);
  });
});

describe('what somebody has read', () => {
  it('is asked for only where it is named, or where a whole list is written over', () => {
    for (const expected of [null, '*', ['a'], ['b', 'a']] as const) {
      expect(() => refuseChanged(expected, 'a', 'it')).not.toThrow();
    }
    for (const expected of [[], ['b']]) {
      expect(() => refuseChanged(expected, 'a', 'it')).toThrow('Somebody has changed it since you read it.');
    }
    expect(() => refuseUnsaid(null, 'the list')).toThrow('This writes over the list.');
    expect(() => refuseUnsaid('*', 'the list')).not.toThrow();
    expect(versionOf({ a: 1 })).toBe(versionOf({ a: 1 }));
    expect(versionOf({ a: 1 })).not.toBe(versionOf({ a: 2 }));
    expect(versionOf('x')).toMatch(/^[\w-]{16}$/);
  });
});

describe('what is wrong with a body', () => {
  const schema = object({
    name: string().required('Expected a name, got nothing.'),
    key: string().max(3, ({ value }) => `Expected at most 3, got ${String(value)}.`),
  });

  it('is told field by field', async () => {
    await expect(validateBody(schema, {})).rejects.toMatchObject({
      code: 'input.invalid',
      fields: [{ field: 'name', message: 'Expected a name, got nothing.' }],
    });
    expect(await validateBody(schema, { name: 'Quay' })).toEqual({ name: 'Quay' });
  });

  it('takes no text that could be shown nowhere, and says where in it', async () => {
    const deep = object({ name: string(), lines: array(object({ text: string() })) });
    const fields = ['name', 'lines[1].text'].map((field) => ({
      ...{ field, message: 'Expected text without hidden control characters, got U+0007 at character 3.' },
    }));
    const given = { name: 'Qu\u0007ay', lines: [{ text: 'a\tb\r\nc' }, { text: 'ab\u0007' }] };
    await expect(validateBody(deep, given)).rejects.toMatchObject({ fields });
  });

  it('does not repeat what was typed into a secret field', async () => {
    const body = { name: 'Quay', settings: { password: 'tide-tables' } };
    const strict = object({
      name: string(),
      settings: object({
        password: string().max(3, ({ value }) => `Expected at most 3, got ${String(value)}.`),
      }),
    });
    await expect(validateBody(strict, body, ['password'])).rejects.toMatchObject({
      fields: [{ field: 'settings.password', message: 'Expected at most 3.' }],
    });
    await expect(validateBody(strict, body)).rejects.toMatchObject({
      fields: [{ field: 'settings.password', message: 'Expected at most 3, got tide-tables.' }],
    });
  });
});
