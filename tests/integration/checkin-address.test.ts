import { execFile } from 'node:child_process';
import { rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { crontabLine, shellLine } from '../../src/core/crontab-line';
import { ask, makeCheckin, startProduct, tempFolder, until, type MadeWatch, type Product } from './helpers';

const run = promisify(execFile);

describe('the check-in address', () => {
  let product: Product;
  let address: string;
  let id: number;

  beforeAll(async () => {
    product = await startProduct();
    ({ checkinAddress: address, id } = await makeCheckin(product));
  });
  afterAll(async () => {
    expect(await product.stop()).toBe(0);
    rmSync(product.folder, { recursive: true, force: true });
  });

  const reports = async () =>
    (await product.api('GET', `/watches/${id}/reports?limit=1000`)).body as Record<string, unknown>[];

  it('has at least 128 bits in its key', () => {
    const key = address.split('/in/')[1]!;
    expect(key).toMatch(/^[a-z2-7]{32}$/);
  });

  it.each(['GET', 'POST', 'HEAD'])('takes a plain %s as done', async (method) => {
    const before = (await reports()).length;
    const { status, text } = await ask(address, { method });
    expect(status).toBe(200);
    expect(text).toBe(method === 'HEAD' ? '' : 'ok\n');
    const now = await reports();
    expect(now).toHaveLength(before + 1);
    expect(now[0]).toMatchObject({ is: 'done', code: null });
  });

  it('shows the watch as up as soon as it reports', async () => {
    await ask(address);
    await until(
      async () => ((await product.api('GET', `/watches/${id}`)).body as MadeWatch).state === 'up',
      'up',
    );
  });

  it.each([
    ['is=begun', 'begun', null],
    ['is=done', 'done', null],
    ['is=failed', 'failed', null],
    ['is=note', 'note', null],
    ['code=0', 'done', 0],
    ['code=75', 'failed', 75],
    ['is=done&code=2', 'failed', 2],
  ])('reads ?%s as %s', async (query, is, code) => {
    expect((await ask(`${address}?${query}`)).status).toBe(200);
    expect((await reports())[0]).toMatchObject({ is, code });
  });

  it('ties begun to done by the run and keeps the output', async () => {
    await ask(`${address}?is=begun&run=night-1`);
    await ask(`${address}?code=0&run=night-1`, { method: 'POST', body: 'wrote 812 names\n<b>bold</b>\0' });
    const [done] = await until(async () => {
      const list = await reports();
      return list[0]!.runMs !== null && list;
    }, 'the length of the run');
    expect(done).toMatchObject({ run: 'night-1', output: 'wrote 812 names\n<b>bold</b>\uFFFD' });
    expect(done!.runMs).toBeGreaterThanOrEqual(0);
  });

  it('keeps output up to 100 kB and refuses more', async () => {
    expect((await ask(address, { method: 'POST', body: 'x'.repeat(100_000) })).status).toBe(200);
    const refused = await ask(address, { method: 'POST', body: 'x'.repeat(100_001) });
    expect(refused).toMatchObject({ status: 413, text: 'Expected at most 100000 bytes of output.\n' });
  });

  it.each([
    ['is=maybe', 'Expected is to be begun, done, failed or note, got "maybe".\n'],
    ['code=one', 'Expected code to be an exit status such as 0, got "one".\n'],
    ['code=1&is=begun', 'Expected code only with done or failed, got it with begun.\n'],
    ['run=', 'Expected run to be 1 to 100 characters, got 0.\n'],
    [`run=${'x'.repeat(101)}`, 'Expected run to be 1 to 100 characters, got 101.\n'],
    ['ist=done', 'Expected only is, code and run, got "ist".\n'],
  ])('refuses ?%s with one plain line', async (query, line) => {
    const before = (await reports()).length;
    const { status, text, headers } = await ask(`${address}?${query}`);
    expect([status, text]).toEqual([400, line]);
    expect(headers.get('content-type')).toBe('text/plain; charset=utf-8');
    expect(await reports()).toHaveLength(before);
  });

  it('refuses other methods and over-long addresses', async () => {
    const put = await ask(address, { method: 'PUT' });
    expect([put.status, put.headers.get('allow')]).toEqual([405, 'GET, POST, HEAD']);
    expect((await ask(`${address}?run=${'x'.repeat(2000)}`)).status).toBe(414);
  });

  it('answers every unknown key alike', async () => {
    const unknown = [
      `${product.base}/in/${'a'.repeat(32)}`,
      `${product.base}/in/short`,
      `${product.base}/in/`,
      `${address}x`,
      `${address}/deeper`,
    ];
    const answers = await Promise.all(unknown.map((url) => ask(url)));
    const shape = answers.map(({ status, text, headers }) => [
      status,
      text,
      [...headers.keys()].sort().join(),
    ]);
    for (const one of shape) expect(one).toEqual(shape[0]);
    expect(shape[0]!.slice(0, 2)).toEqual([404, 'There is no check-in at this address.\n']);
  });

  it('answers a deleted watch like an unknown key, at once', async () => {
    const gone = await makeCheckin(product);
    expect((await ask(gone.checkinAddress)).status).toBe(200);
    expect((await product.api('DELETE', `/watches/${gone.id}`)).status).toBe(204);
    expect((await ask(gone.checkinAddress)).status).toBe(404);
  });

  it('is reached by the lines that can be pasted, with the exit status', async () => {
    const folder = tempFolder();
    const job = join(folder, 'job');
    writeFileSync(job, '#!/bin/sh\necho "100% of 24 stations"\nexit 3\n', { mode: 0o755 });
    // As cron hands it to the shell: without the schedule, "\%" turned back into "%".
    const cron = crontabLine('30 2 * * *', address, job)
      .replace(/^30 2 \* \* \* /, '')
      .replaceAll('\\%', '%');
    await run('/bin/sh', ['-c', cron]);
    expect((await reports())[0]).toMatchObject({ is: 'failed', code: 3, output: '100% of 24 stations' });
    await run('/bin/sh', ['-c', shellLine(address, 'true')]);
    expect((await reports())[0]).toMatchObject({ is: 'done', code: 0 });
    rmSync(folder, { recursive: true });
  });

  it('takes a burst in, each once', async () => {
    const burst = await makeCheckin(product, { name: 'Burst' });
    const statuses = await Promise.all(
      Array.from({ length: 300 }, (_, i) =>
        ask(`${burst.checkinAddress}?is=note&run=b${i}`).then((a) => a.status),
      ),
    );
    expect(new Set(statuses)).toEqual(new Set([200]));
    const kept = (await product.api('GET', `/watches/${burst.id}/reports?limit=1000`)).body as {
      run: string;
    }[];
    expect(new Set(kept.map((r) => r.run)).size).toBe(300);
    expect(kept).toHaveLength(300);
  });
});
