import { spawn, type ChildProcess } from 'node:child_process';
import { existsSync, mkdirSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { ask, startProduct, tempFolder, until, type Product } from '../helpers';

const NGINX = '/usr/sbin/nginx';
/** What stands at the usual port, on addresses nothing else here has. */
const [GOOD, BARE, FOREIGN] = ['127.83.0.1', '127.83.0.2', '127.83.0.3'];
const can = existsSync(NGINX) && process.getuid?.() === 0;

describe.runIf(can)('a name of a page, before a real nginx', () => {
  let product: Product;
  let nginx: ChildProcess;
  const folder = tempFolder();

  beforeAll(async () => {
    const names = { status: GOOD, bare: BARE, foreign: FOREIGN, closed: '127.83.0.4' };
    const hosts = Object.entries(names).map(([name, address]) => `${name}.ternferry.test=${address}`);
    product = await startProduct({
      env: { LANTERN_TRUSTED_PROXY: '127.0.0.0/8', LANTERN_HOSTS: hosts.join(',') },
    });
    mkdirSync(join(folder, 'tmp'));
    const temp = ['client_body', 'proxy', 'fastcgi', 'uwsgi', 'scgi'].map(
      (t) => `${t}_temp_path ${folder}/tmp;`,
    );
    const at = (address: string, lines: string) => `server { listen ${address}:80; location / { ${lines} } }`;
    writeFileSync(
      join(folder, 'nginx.conf'),
      `daemon off; worker_processes 1; pid ${folder}/pid; error_log stderr;
       events { worker_connections 64; }
       http { access_log off; ${temp.join(' ')}
         ${at(GOOD, `proxy_pass ${product.base}; proxy_set_header Host $host;`)}
         ${at(BARE, `proxy_pass ${product.base};`)}
         ${at(FOREIGN, 'return 200 "somebody else";')} }`,
    );
    nginx = spawn(NGINX, ['-c', join(folder, 'nginx.conf')], { stdio: 'ignore' });
    const answers = () => ask(`http://${GOOD}/healthz`).then(({ status }) => status === 200);
    await until(() => answers().catch(() => false), 'nginx answers');
  });
  afterAll(async () => {
    nginx.kill();
    await product.stop();
    for (const one of [folder, product.folder]) rmSync(one, { recursive: true, force: true });
  });

  const check = async (name: string) => {
    const { status, body } = await product.api('POST', '/page-names', { host: `${name}.ternferry.test` });
    const { ok, steps } = body as { ok: boolean; steps: { ok: boolean; text: string }[] };
    return { status, ok, last: steps?.at(-1)?.text };
  };

  it('is asked for as visitors will, and what is in the way is said', async () => {
    expect(await check('status')).toMatchObject({
      ok: true,
      last: expect.stringContaining('visitors will find'),
    });
    expect(await check('bare')).toMatchObject({
      ok: false,
      last: expect.stringContaining('does not hand the name on'),
    });
    expect(await check('foreign')).toMatchObject({
      ok: false,
      last: expect.stringContaining('200 somebody else'),
    });
    expect(await check('closed')).toMatchObject({ ok: false, last: expect.stringContaining('ECONNREFUSED') });
    expect(await check('nowhere-at-all')).toMatchObject({
      ok: false,
      last: expect.stringContaining('There is no name'),
    });
    expect((await product.api('POST', '/page-names', { host: 'localhost' })).status).toBe(422);
    expect((await ask(`${product.base}/whose/${'x'.repeat(22)}`)).status).toBe(404);
  });
});
