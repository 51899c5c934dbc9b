import { execFile } from 'node:child_process';
import { readdirSync } from 'node:fs';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { describe, expect, it, onTestFinished } from 'vitest';
import { saveAccount } from '@/store/access/accounts';
import { openStore } from '@/store/db/open';
import { ask, EMAIL, PASSWORD, ROOT, tempFolder } from '../helpers';
import { startSignedIn } from '../signed-in';

/** The command, as somebody at the machine types it. */
const renew = (folder: string, ...words: string[]) =>
  promisify(execFile)(process.execPath, [join(ROOT, 'dist/new-password.js'), ...words], {
    env: { ...process.env, LANTERN_DATA: folder, LANTERN_BASE_URL: 'https://watch.ternferry.test' },
  }).then(
    ({ stdout }) => stdout,
    (error: { code: number; stderr: string }) => `${error.code} ${error.stderr}`,
  );

describe('a password that was forgotten', () => {
  it('gives way to another, beside a product that runs, and ends all sessions', async () => {
    const { product, cookie } = await startSignedIn();
    onTestFinished(async () => void (await product.stop()));
    const signIn = (email: string, password: string) =>
      ask(`${product.base}/api/session`, {
        method: 'POST',
        headers: { 'content-type': 'application/json', origin: product.base },
        body: JSON.stringify({ email, password }),
      });
    const desk = () => fetch(product.base, { headers: { cookie }, redirect: 'manual' });
    expect((await desk()).status).toBe(200);
    // Who has guessed for long is not kept out by that.
    let guessed = 0;
    for (let i = 0; i < 60 && guessed !== 429; i += 1) guessed = (await signIn(EMAIL, `guess ${i}`)).status;
    expect(guessed).toBe(429);
    const said = await renew(product.folder);
    const [, password] = /^The new password of ines@ternferry\.test is {2}(\S+)\n/.exec(said)!;
    expect(password).toMatch(/^[a-z2-7]{4}(-[a-z2-7]{4}){3}$/);
    expect(said).toContain('Sign in at https://watch.ternferry.test/sign-in,');
    expect((await desk()).status).toBe(307);
    expect((await signIn(EMAIL, PASSWORD)).status).toBe(422);
    expect((await signIn(EMAIL, password!)).status).toBe(204);
    const deeds = (await product.api('GET', '/deeds?limit=1')).body as unknown as object[];
    expect(deeds).toMatchObject([
      { deed: 'renewPassword', by: { kind: 'machine' }, subject: { kind: 'account', name: EMAIL } },
    ]);
  });

  it('of one of several is that of who is named', async () => {
    const folder = tempFolder();
    const db = await openStore(folder);
    const [one, other] = ['ines@ternferry.test', 'rui@ternferry.test'];
    for (const email of [one, other]) await saveAccount(db, { email, passwordHash: 'kept', createdAt: 1 });
    expect(await renew(folder)).toBe(`1 Expected one of ${one}, ${other}, got nothing.\n`);
    expect(await renew(folder, 'Nobody@ternferry.test')).toBe(
      `1 Expected one of ${one}, ${other}, got “Nobody@ternferry.test”.\n`,
    );
    expect(await renew(folder, 'Rui@Ternferry.test')).toMatch(/^The new password of rui@ternferry\.test is/);
    const hashes = await db('accounts').orderBy('id').pluck('password_hash');
    expect([hashes[0] === 'kept', hashes[1] === 'kept']).toEqual([true, false]);
    await db.destroy();
  });

  it('makes no desk where there is none', async () => {
    const folder = tempFolder();
    expect(await renew(folder)).toBe(
      `1 Expected LANTERN_DATA to be the folder of a Calm Lantern; there is none in ${folder}.\n`,
    );
    expect(readdirSync(folder)).toEqual([]);
  });
});
