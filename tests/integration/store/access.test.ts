import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import {
  deleteSession,
  endOtherSessions,
  endSession,
  fetchAccountByEmail,
  fetchSession,
  fetchSessions,
  hasAccounts,
  IDLE_MS,
  saveAccount,
  saveAccountChange,
  saveSession,
} from '@/store/access/accounts';
import { fetchAnswered, saveAnswered } from '@/store/access/answered-requests';
import { fetchDeeds, saveDeeds } from '@/store/access/deeds';
import {
  clearSignInFailures,
  fetchSignInFailures,
  isKnownClient,
  saveSignIn,
  saveSignInFailure,
} from '@/store/access/sign-ins';
import { acceptToken, fetchTokens, isRevoked, revokeToken, saveToken } from '@/store/access/tokens';
import { tempStore, type TempStore } from '../helpers';

const T0 = Date.parse('2026-11-20T08:00:00Z');
const MINUTE = 60_000;
const DAY = 24 * 60 * MINUTE;
const INES = 'ines@ternferry.test';

let store: TempStore;
beforeEach(async () => void (store = await tempStore()));
afterEach(() => store.close());

const makeAccount = (email: string) =>
  saveAccount(store.db, { email, passwordHash: `hash of ${email}`, createdAt: T0 });

describe('accounts', () => {
  it('are found however their address is written, and changed in part', async () => {
    expect(await hasAccounts(store.db)).toBe(false);
    const { id } = await makeAccount(' Ines@TernFerry.test ');
    expect(await hasAccounts(store.db)).toBe(true);
    const found = { id, email: INES, passwordHash: 'hash of  Ines@TernFerry.test ' };
    expect(await fetchAccountByEmail(store.db, ' INES@ternferry.test')).toEqual(found);
    expect(await fetchAccountByEmail(store.db, 'rui@ternferry.test')).toBeNull();
    await saveAccountChange(store.db, id, { passwordHash: 'new' });
    expect(await fetchAccountByEmail(store.db, INES)).toEqual({ ...found, passwordHash: 'new' });
    await saveAccountChange(store.db, id, { email: ' Ines.M@ternferry.test' });
    expect(await fetchAccountByEmail(store.db, INES)).toBeNull();
    expect(await fetchAccountByEmail(store.db, 'ines.m@ternferry.test')).toMatchObject({
      passwordHash: 'new',
    });
  });
});

describe('sessions', () => {
  const begin = (accountId: number, tokenHash: string, createdAt = T0) =>
    saveSession(store.db, {
      ...{
        tokenHash,
        accountId,
        createdAt,
        expiresAt: createdAt + 30 * DAY,
        client: '10.0.0.7',
        agent: 'desk',
      },
    });
  const tokens = (accountId: number, now = T0) => fetchSessions(store.db, accountId, now);

  it('last while they are used, and no longer than they may', async () => {
    const ines = await makeAccount(INES);
    await begin(ines.id, 'a');
    const session = { id: expect.any(Number) as number, account: ines };
    expect(await fetchSession(store.db, 'a', T0 + IDLE_MS - 1)).toEqual(session);
    expect(await fetchSession(store.db, 'b', T0)).toBeNull();
    // That was a use.
    expect(await fetchSession(store.db, 'a', T0 + 2 * IDLE_MS - 2)).toEqual(session);
    expect(await fetchSession(store.db, 'a', T0 + 3 * IDLE_MS)).toBeNull();
    expect(await tokens(ines.id, T0 + 3 * IDLE_MS)).toEqual([]);
    await begin(ines.id, 'long');
    await store.db('sessions').update({ used_at: T0 + 30 * DAY });
    expect(await fetchSession(store.db, 'long', T0 + 30 * DAY - 1)).toMatchObject({ account: ines });
    expect(await fetchSession(store.db, 'long', T0 + 30 * DAY)).toBeNull();
  });

  it('note their use once a minute', async () => {
    const ines = await makeAccount(INES);
    await begin(ines.id, 'a');
    const usedAt = async (now: number) => {
      await fetchSession(store.db, 'a', now);
      return (await tokens(ines.id))[0]!.usedAt;
    };
    expect(await usedAt(T0 + MINUTE)).toBe(T0);
    expect(await usedAt(T0 + MINUTE + 1)).toBe(T0 + MINUTE + 1);
  });

  it('that are over are gone once another begins', async () => {
    const ines = await makeAccount(INES);
    await begin(ines.id, 'idle');
    await begin(ines.id, 'old', T0 - 31 * DAY);
    await store
      .db('sessions')
      .where({ token_hash: 'old' })
      .update({ used_at: T0 + IDLE_MS });
    await begin(ines.id, 'new', T0 + IDLE_MS + 1);
    expect(await store.db('sessions').pluck('token_hash')).toEqual(['new']);
  });

  it('are listed and ended by their own account alone', async () => {
    const [ines, rui] = [await makeAccount(INES), await makeAccount('rui@ternferry.test')];
    for (const [n, token] of ['a', 'b', 'c'].entries()) await begin(ines.id, token, T0 + n);
    await begin(rui.id, 'd');
    const [c, b, a] = await tokens(ines.id);
    expect(c).toEqual({ id: c!.id, createdAt: T0 + 2, usedAt: T0 + 2, client: '10.0.0.7', agent: 'desk' });
    expect(await endSession(store.db, rui.id, a!.id)).toBe(false);
    expect(await tokens(ines.id)).toHaveLength(3);
    expect(await endSession(store.db, ines.id, a!.id)).toBe(true);
    expect(await endSession(store.db, ines.id, a!.id)).toBe(false);
    await endOtherSessions(store.db, ines.id, b!.id);
    expect((await tokens(ines.id)).map(({ id }) => id)).toEqual([b!.id]);
    await endOtherSessions(store.db, ines.id, null);
    expect(await tokens(ines.id)).toEqual([]);
    expect(await tokens(rui.id)).toHaveLength(1);
    await deleteSession(store.db, 'd');
    expect(await tokens(rui.id)).toEqual([]);
  });
});

describe('tokens', () => {
  it('are kept once, accepted until they are revoked, and never come back', async () => {
    const token = { name: 'Clerk', tokenHash: 'x', createdAt: T0 };
    const id = await saveToken(store.db, token);
    expect(await saveToken(store.db, { ...token, name: 'Again' })).toBe(id);
    expect(await acceptToken(store.db, 'x', T0)).toEqual({ id, name: 'Clerk' });
    expect(await acceptToken(store.db, 'y', T0)).toBeNull();
    expect(await acceptToken(store.db, 'x', T0 + MINUTE)).toEqual({ id, name: 'Clerk' });
    expect(await fetchTokens(store.db)).toEqual([{ id, name: 'Clerk', createdAt: T0, lastUsedAt: T0 }]);
    await acceptToken(store.db, 'x', T0 + MINUTE + 1);
    expect((await fetchTokens(store.db))[0]!.lastUsedAt).toBe(T0 + MINUTE + 1);
    expect(await isRevoked(store.db, 'x')).toBe(false);
    expect(await isRevoked(store.db, 'y')).toBe(false);
    expect(await revokeToken(store.db, id, T0)).toBe(true);
    expect(await revokeToken(store.db, id, T0)).toBe(false);
    expect(await isRevoked(store.db, 'x')).toBe(true);
    expect(await saveToken(store.db, token)).toBe(id);
    expect(await acceptToken(store.db, 'x', T0)).toBeNull();
    expect(await fetchTokens(store.db)).toEqual([]);
  });
});

describe('sign-ins that failed', () => {
  it('count for the address and for the client, and are forgotten in time', async () => {
    const fail = (email: string, client: string, at = T0) =>
      saveSignInFailure(store.db, { email, client, at });
    await fail(INES, '1');
    await fail(INES, '1', T0 + 5);
    await fail('rui@ternferry.test', '1');
    await fail(INES, '2');
    await fail('rui@ternferry.test', '2');
    const found = (client: string, since = 0) =>
      fetchSignInFailures(store.db, { email: INES, client }, since);
    const three = [
      { email: INES, client: '1', count: 2, lastAt: T0 + 5 },
      { email: INES, client: '2', count: 1, lastAt: T0 },
      { email: 'rui@ternferry.test', client: '1', count: 1, lastAt: T0 },
    ];
    expect(await found('1')).toHaveLength(3);
    expect(await found('1')).toEqual(expect.arrayContaining(three));
    expect(await found('3')).toHaveLength(2);
    expect(await found('1', T0 + 1)).toHaveLength(1);
    expect(await found('1')).toHaveLength(1);
    await clearSignInFailures(store.db, INES);
    expect(await found('1')).toEqual([]);
  });

  it('end with one that goes well, from where that was; it is known there for ninety days', async () => {
    const { id } = await makeAccount(INES);
    for (const client of ['1', '2']) await saveSignInFailure(store.db, { email: INES, client, at: T0 });
    const signIn = (client: string, at: number) =>
      saveSignIn(store.db, { accountId: id, email: INES, client, at });
    const known = (client: string, now: number) => isKnownClient(store.db, INES, client, now);
    await signIn('1', T0);
    const left = await fetchSignInFailures(store.db, { email: INES, client: '1' }, 0);
    expect(left.map(({ client }) => client)).toEqual(['2']);
    expect(await known('1', T0 + 90 * DAY - 1)).toBe(true);
    expect(await known('1', T0 + 90 * DAY)).toBe(false);
    expect(await known('2', T0)).toBe(false);
    expect(await isKnownClient(store.db, 'rui@ternferry.test', '1', T0)).toBe(false);
    await signIn('1', T0 + 10 * DAY);
    expect(await known('1', T0 + 99 * DAY)).toBe(true);
    await signIn('2', T0 + 101 * DAY);
    expect(await store.db('known_clients').pluck('client')).toEqual(['2']);
  });
});

describe('what was done', () => {
  it('is noted with who did it, for each thing it was about, however many', async () => {
    const by = { kind: 'account' as const, id: 3, name: INES };
    const subjects = Array.from({ length: 250 }, (_, i) => ({ kind: 'watch', id: i, name: `Kiosk ${i}` }));
    await saveDeeds(store.db, { at: T0, deed: 'changeWatches', by }, subjects);
    await saveDeeds(store.db, { at: T0 + 1, deed: 'nothing', by }, []);
    const noted = await fetchDeeds(store.db, { limit: 1000, ascending: true });
    expect(noted.map(({ subject }) => subject)).toEqual(subjects);
    expect(noted[0]).toEqual({ id: noted[0]!.id, at: T0, deed: 'changeWatches', by, subject: subjects[0] });
    expect(await fetchDeeds(store.db, { limit: 2, until: T0 })).toEqual([]);
  });

  it('is answered again to whom it was, for as long as that is kept', async () => {
    const answered = { who: 'token 1', key: 'once', request: 'm', answer: 'sealed', at: T0 };
    await saveAnswered(store.db, answered);
    const found = (who: string, key: string, since: number) => fetchAnswered(store.db, { who, key, since });
    expect(await found('token 1', 'once', T0 - 1)).toMatchObject(answered);
    expect(await found('token 1', 'once', T0)).toBeNull();
    expect(await found('token 2', 'once', 0)).toBeNull();
    expect(await found('token 1', 'twice', 0)).toBeNull();
    await saveAnswered(store.db, { ...answered, answer: 'other', at: T0 + DAY });
    expect(await found('token 1', 'once', T0)).toMatchObject({ answer: 'other', at: T0 + DAY });
  });
});
