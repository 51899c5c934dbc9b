import { EventEmitter } from 'node:events';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { hashSecret } from '@/accounts/secrets';
import { makeFirstAccount, signIn, signOut } from '@/api/sign-in';
import { readEnvironment } from '@/core/settings/environment';
import type { ServerContext } from '@/server/context';
import { fetchSession, hasAccounts } from '@/store/access/accounts';
import { openVault } from '@/store/db/vault';
import { EMAIL, PASSWORD, tempStore, type TempStore } from '../../integration/helpers';

const BASE = 'https://watch.ternferry.test';
const CODE = 'abcd-efgh-ijkl-mnop';

describe('signing in', () => {
  let store: TempStore;
  let context: ServerContext;

  beforeEach(async () => {
    store = await tempStore();
    context = {
      db: store.db,
      vault: openVault(store.folder),
      environment: readEnvironment({}),
      hub: new EventEmitter(),
      firstCode: CODE,
      now: () => Date.now(),
    } as unknown as ServerContext;
  });
  afterEach(() => store.close());

  const ask = (body: object, headers: Record<string, string> = {}) =>
    new Request(`${BASE}/api/session`, {
      method: 'POST',
      headers: {
        'content-type': 'application/json',
        'sec-fetch-site': 'same-origin',
        host: 'watch.ternferry.test',
        'x-lantern-client': '192.0.2.7',
        ...headers,
      },
      body: JSON.stringify(body),
    });
  const HERE = { 'x-lantern-local': '1' };
  const makeFirst = (body: object = {}, headers: Record<string, string> = HERE) =>
    makeFirstAccount(ask({ email: EMAIL, password: PASSWORD, ...body }, headers), context);
  const cookieOf = (response: Response) => response.headers.get('set-cookie') ?? '';
  const secretOf = (response: Response) => /=([^;]*);/.exec(cookieOf(response))?.[1] ?? '';
  const isOpen = async (secret: string) =>
    (await fetchSession(store.db, hashSecret(secret), Date.now())) !== null;

  it('sets a cookie that no script reads, no other site sends along, and that never goes in the clear', async () => {
    const inTheClear = await makeFirst();
    expect(inTheClear.status).toBe(204);
    expect(cookieOf(inTheClear)).toMatch(/^\w+=[\w-]{20,}; Path=\/; HttpOnly; SameSite=Lax; Max-Age=\d+$/);
    expect(await isOpen(secretOf(inTheClear))).toBe(true);
    const encrypted = await signIn(
      ask({ email: EMAIL, password: PASSWORD }, { 'x-forwarded-proto': 'https' }),
      context,
    );
    expect(cookieOf(encrypted)).toMatch(/; HttpOnly; SameSite=Lax; Max-Age=\d+; Secure$/);
    const out = await signOut(
      ask({}, { 'x-forwarded-proto': 'https', cookie: cookieOf(encrypted).split(';')[0]! }),
      context,
    );
    expect(cookieOf(out)).toMatch(/=; Path=\/; HttpOnly; SameSite=Lax; Max-Age=0; Secure$/);
  });

  it('ends on the other side too when somebody signs out', async () => {
    const response = await makeFirst();
    const secret = secretOf(response);
    await signOut(ask({}, { cookie: cookieOf(response).split(';')[0]! }), context);
    expect(await isOpen(secret)).toBe(false);
  });

  it('makes the first account once, however many ask at the same time', async () => {
    const answers = await Promise.all([makeFirst(), makeFirst({ email: 'rui@ternferry.test' }), makeFirst()]);
    expect(answers.map((one) => one.status).sort()).toEqual([204, 409, 409]);
    expect(await store.db('accounts').count({ n: '*' })).toEqual([{ n: 1 }]);
    expect((await makeFirst({ email: 'rui@ternferry.test' })).status).toBe(409);
  });

  it('asks who is not at this machine for the code that was printed', async () => {
    expect((await makeFirst({}, {})).status).toBe(422);
    expect((await makeFirst({ code: 'abcd-efgh-ijkl-mnoq' }, {})).status).toBe(422);
    expect(await hasAccounts(store.db)).toBe(false);
    expect((await makeFirst({ code: ` ${CODE.toUpperCase()} ` }, {})).status).toBe(204);
  });

  it('asks for the code at this machine too where a proxy stands before it', async () => {
    context.environment = readEnvironment({ LANTERN_BASE_URL: BASE });
    expect((await makeFirst()).status).toBe(422);
    expect((await makeFirst({ code: CODE })).status).toBe(204);
  });

  it('makes whoever guesses wait, from wherever nobody signed in before', async () => {
    // However long a try takes on a busy machine, no time passes between them.
    const at = Date.now();
    context.now = () => at;
    await makeFirst();
    const statuses: number[] = [];
    for (let i = 0; i < 12; i += 1) {
      const tried = await signIn(
        ask({ email: EMAIL, password: `wrong ${i}` }, { 'x-lantern-client': '192.0.2.66' }),
        context,
      );
      statuses.push(tried.status);
    }
    expect(statuses[0]).toBe(422);
    expect(statuses).toContain(429);
    const waiting = await signIn(
      ask({ email: EMAIL, password: PASSWORD }, { 'x-lantern-client': '192.0.2.66' }),
      context,
    );
    expect(waiting.status).toBe(429);
    expect(Number(waiting.headers.get('retry-after'))).toBeGreaterThan(0);
    // Where somebody signed in before, guessing elsewhere does not lock them out.
    expect((await signIn(ask({ email: EMAIL, password: PASSWORD }), context)).status).toBe(204);
  });

  it('says nothing of which of the two was wrong', async () => {
    await makeFirst();
    const said = async (body: object) => {
      const response = await signIn(ask(body), context);
      return [response.status, ((await response.json()) as { errors: unknown }).errors];
    };
    expect(await said({ email: EMAIL, password: 'wrong wrong' })).toEqual(
      await said({ email: 'nobody@ternferry.test', password: 'wrong wrong' }),
    );
  });

  it.each([
    ['another site', { 'sec-fetch-site': 'cross-site' }],
    ['a site beside ours', { 'sec-fetch-site': 'same-site' }],
    ['nobody knows where', { 'sec-fetch-site': 'none' }],
  ])('is refused to a form of %s', async (_, headers) => {
    expect((await makeFirst({}, { ...HERE, ...headers })).status).toBe(403);
    await makeFirst();
    expect((await signIn(ask({ email: EMAIL, password: PASSWORD }, headers), context)).status).toBe(403);
    expect((await signOut(ask({}, headers), context)).status).toBe(403);
  });
});
