import { spawn, spawnSync } from 'node:child_process';
import { chmodSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { readyLines } from '@/core/imports/ready-lines';
import { makeCheckin, startProduct, tempFolder, until, type Product } from '../helpers';
import { withinProcess, type Within } from '../within';

interface Draft {
  form: string;
  rows: {
    line: number;
    name: string;
    words: string;
    leewaySeconds: number;
    stands: string;
    note: string | null;
    problem: string | null;
  }[];
  without: { name: string }[];
}

interface Report {
  is: string;
  code: number | null;
  output: string | null;
}

describe('jobs that are brought along', () => {
  let product: Product;
  let folder: string;

  beforeAll(async () => {
    product = await startProduct();
    folder = tempFolder();
    const wrapper = await fetch(`${product.base}/lantern-run`);
    writeFileSync(join(folder, 'lantern-run'), await wrapper.text());
    chmodSync(join(folder, 'lantern-run'), 0o755);
  });
  afterAll(async () => {
    await product.stop();
    for (const one of [folder, product.folder]) rmSync(one, { recursive: true, force: true });
  });

  const shared = { zone: 'Europe/Lisbon', section: 'Office server' };
  /** The wrapper lies where this test put it. */
  const here = () => ({ wrapper: join(folder, 'lantern-run') });
  const draft = async (text: string, rest: object = {}) => {
    const answer = await product.api('POST', '/job-drafts', { text, ...shared, ...here(), ...rest });
    expect(answer.status).toBe(200);
    return answer.body as unknown as Draft;
  };
  const reports = async (id: number) =>
    (await product.api('GET', `/watches/${id}/reports`)).body as unknown as Report[];
  /** Runs a line as cron hands it to the shell. */
  const run = (line: string) =>
    spawnSync('/bin/sh', ['-c', line.replace(/^(\S+\s+){5}/, '').replaceAll('\\%', '%')], {
      encoding: 'utf8',
      env: { ...process.env, SHELL: '/bin/sh', PATH: `${folder}:${process.env.PATH}` },
    });

  it('are judged, made and handed back, run as before and report; pasted again they tell what drifted', async () => {
    const crontab = [
      '# the night',
      `30 2 * * * echo "wrote 812 names" && echo 100\\% && exit 4`,
      '*/15 * * * * /bin/echo pulled',
      '@reboot /opt/ferry/lamp',
      '99 * * * * /opt/ferry/never',
      '',
    ].join('\n');
    const first = await draft(crontab);
    expect(first).toMatchObject({ form: 'user', without: [] });
    expect(first.rows).toMatchObject([
      { line: 2, words: 'At 02:30', stands: 'new', problem: null },
      { line: 3, words: 'Every 15 minutes', leewaySeconds: 300, stands: 'new' },
      { line: 4, problem: expect.stringContaining('when the machine starts') },
      { line: 5, problem: expect.stringContaining('Expected a minute') },
    ]);
    const refused = await product.api('POST', '/job-imports', {
      text: crontab,
      ...shared,
      ...here(),
      jobs: [{ line: 4, name: 'Lamp', leewaySeconds: 60 }],
    });
    expect(refused.status).toBe(422);

    const answer = await product.api('POST', '/job-imports', {
      text: crontab,
      ...shared,
      ...here(),
      jobs: [
        { line: 2, name: 'Manifest', leewaySeconds: 1800 },
        { line: 3, name: 'Manifest', leewaySeconds: 300 },
      ],
    });
    expect(answer.status).toBe(201);
    const { made, text } = answer.body as unknown as { made: { id: number; name: string }[]; text: string };
    expect(made.map((one) => one.name)).toEqual(['Manifest', 'Manifest 2']);
    const lines = text.split('\n');
    expect([lines[0], lines[3], lines[4], lines[5]]).toEqual(
      crontab.split('\n').filter((_, i) => ![1, 2].includes(i)),
    );

    const nightly = run(lines[1]!);
    expect([nightly.status, nightly.stdout]).toEqual([4, 'wrote 812 names\n100%\n']);
    expect((await reports(made[0]!.id))[0]).toMatchObject({
      is: 'failed',
      code: 4,
      output: 'wrote 812 names\n100%\n',
    });
    expect(run(lines[2]!).stdout).toBe('pulled\n');
    expect((await reports(made[1]!.id))[0]).toMatchObject({ is: 'done', code: 0 });

    // Later: one line was moved to another time, one was taken out.
    const later = await draft(
      `${lines[1]!.replace('30 2', '45 3')}\n0 5 * * * /opt/ferry/new\n0 6 * * * lantern-run ${'z'.repeat(32)} -- x`,
    );
    expect(later.rows).toMatchObject([
      {
        stands: 'differs',
        note: expect.stringContaining('45 3 * * * (Europe/Lisbon); “Manifest” expects 30 2'),
      },
      { stands: 'new', name: 'New' },
      { stands: 'unknown address' },
    ]);
    expect(later.without).toMatchObject([{ name: 'Manifest 2' }]);
    expect((await draft(text)).rows.slice(0, 2)).toMatchObject([
      { stands: 'watched' },
      { stands: 'watched' },
    ]);
  });

  it('come as timers too, with drop-ins for their services', async () => {
    const text =
      '# /etc/systemd/system/manifest.timer\n[Timer]\nOnCalendar=Mon..Fri 02:30\nRandomizedDelaySec=5min\n';
    const { form, rows } = await draft(text, { section: 'Timers' });
    expect(form).toBe('timers');
    expect(rows).toMatchObject([
      { name: 'manifest', words: 'At 02:30, Monday to Friday', leewaySeconds: 7500 },
    ]);
    const answer = await product.api('POST', '/job-imports', {
      text,
      zone: shared.zone,
      section: 'Timers',
      jobs: [{ line: 1, name: 'Manifest timer', leewaySeconds: 7500 }],
    });
    const { made, text: units } = answer.body as unknown as { made: { id: number }[]; text: string };
    const stop = /^ExecStopPost=-\/bin\/sh -c '(.*)'$/m.exec(units)![1]!;
    for (const [result, status] of [
      ['success', '0'],
      ['exit-code', '3'],
      ['signal', 'KILL'],
    ]) {
      spawnSync('/bin/sh', ['-c', stop], {
        env: { ...process.env, SERVICE_RESULT: result, EXIT_STATUS: status },
      });
    }
    const said = (await reports(made[0]!.id)).map(({ is, code }) => [is, code]).reverse();
    expect(said).toEqual([
      ['done', 0],
      ['failed', 3],
      ['failed', null],
    ]);
  });

  it('reach their address by the ready lines for the shell, Python and Node.js', async () => {
    const job = await makeCheckin(product);
    const lines = readyLines({
      address: job.checkinAddress,
      base: product.base,
      mail: null,
      name: 'Fares',
      schedule: { type: 'period', every: 3600 },
    });
    const text = (id: string) => lines.find((line) => line.id === id)!.text;
    const env = { ...process.env, PATH: `${folder}:${process.env.PATH}` };
    spawnSync('/bin/sh', ['-c', text('shell').replace('/path/to/your-job', 'false')], { env });
    expect((await reports(job.id))[0]).toMatchObject({ is: 'failed', code: 1 });
    const wrapper = text('wrapper').split('\n')[1]!.replace('/path/to/your-job', 'echo wrapped');
    spawnSync('/bin/sh', ['-c', wrapper], { env });
    expect((await reports(job.id))[0]).toMatchObject({ is: 'done', output: 'wrapped\n' });
    const node = spawn(process.execPath, [
      '--input-type=module',
      '-e',
      `const work = async () => { throw new Error('no tide') };\n${text('node')}`,
    ]);
    await new Promise((resolve) => node.on('close', resolve));
    expect((await reports(job.id))[0]).toMatchObject({
      is: 'failed',
      output: expect.stringContaining('no tide'),
    });
    const python = spawnSync('python3', ['-c', text('python'), 'sh', '-c', 'echo from python; exit 6'], {
      env,
    });
    if (python.error) {
      process.stderr.write('python3 is not installed: its ready line is not tried\n');
      return;
    }
    expect(python.status).toBe(6);
    await until(
      async () =>
        (await reports(job.id))[0]!.code === 6 && (await reports(job.id))[0]!.output === 'from python\n',
      'what Python reported',
    );
  });
});

describe('what is unsure about jobs that are brought along', () => {
  let product: Within;

  withinProcess((one) => (product = one));

  const draft = (text: string, rest: object = {}) =>
    product.api('POST', '/job-drafts', { text, zone: 'UTC', section: 'Office server', ...rest });
  const make = (text: string, rest: object = {}) =>
    product.api('POST', '/job-imports', {
      text,
      zone: 'UTC',
      section: 'Office server',
      jobs: [{ line: 1, name: 'Night run', leewaySeconds: 60 }],
      ...rest,
    });

  it('is asked, and nothing is made on a guess', async () => {
    const either = '0 3 * * * ferry /opt/x\n';
    expect((await draft(either)).body).toMatchObject({ asks: ['form'] });
    expect((await make(either)).body).toMatchObject({ status: 422, errors: [{ field: 'form' }] });
    expect((await draft(either, { form: 'system' })).body).toMatchObject({ form: 'system', asks: [] });
    const days = '0 6 */2 * 1 /opt/x\n';
    expect((await draft(days)).body).toMatchObject({ asks: ['cron'] });
    expect((await make(days)).body).toMatchObject({ status: 422, errors: [{ field: 'cron' }] });
    const debian = await draft(days, { cron: 'debian' });
    expect(debian.body).toMatchObject({ asks: [] });
    expect((debian.body as { rows: { words: string }[] }).rows[0]!.words).toContain(
      'both the day of the month',
    );
    const made = await make(days, { cron: 'debian' });
    const { id } = (made.body as { made: { id: number }[] }).made[0]!;
    expect((await product.api('GET', `/watches/${id}`)).body).toMatchObject({
      schedule: { dialect: 'debian' },
    });
    const anacron = await draft('1 5 cron.daily run-parts /etc/cron.daily\n');
    expect(anacron.body).toMatchObject({ status: 422, errors: [{ field: 'text' }] });
    expect((await draft('0 3 * * * /opt/x\n', { wrapper: 'lantern-run' })).body).toMatchObject({
      status: 422,
      errors: [{ field: 'wrapper' }],
    });
  });

  it('is not taken for the job of another machine because it has its name', async () => {
    const text = '0 3 * * * /opt/tide-report\n';
    await make(text, { section: 'North pier', jobs: [{ line: 1, name: 'Tide report', leewaySeconds: 60 }] });
    const stands = async (section: string) =>
      ((await draft(text, { section })).body as { rows: { stands: string }[] }).rows[0]!.stands;
    expect([await stands('North pier'), await stands('South pier')]).toEqual(['watched', 'new']);
  });

  it('is told once when a job is never heard of, and counts from its first report on', async () => {
    const watch = { kind: 'checkin', schedule: { type: 'period', everySeconds: 10 }, leewaySeconds: 0 };
    const room = await product.api('POST', '/channels', {
      kind: 'webhook',
      name: 'Nowhere',
      settings: { address: 'http://127.0.0.1:9/hook' },
    });
    expect(room.status).toBe(201);
    const silent = await product.api('POST', '/watches', { ...watch, name: 'Silent' });
    const begun = await product.api('POST', '/watches', { ...watch, name: 'Begun' });
    const { checkinAddress } = begun.body as { checkinAddress: string };
    await fetch(`${checkinAddress}?is=begun`);
    const titles = async () =>
      ((await product.api('GET', '/deliveries')).body as unknown as { title: string }[]).map(
        (one) => one.title,
      );
    await until(async () => (await titles()).includes('Silent wants a hand'), 'told', 30_000);
    await until(async () => (await titles()).includes('Begun is down'), 'begun and never done', 30_000);
    await new Promise((resolve) => setTimeout(resolve, 3000));
    expect((await titles()).filter((title) => title.startsWith('Silent'))).toHaveLength(1);
    const { id } = silent.body as { id: number };
    expect((await product.api('GET', `/watches/${id}`)).body).toMatchObject({ state: 'waiting' });
    await fetch((silent.body as { checkinAddress: string }).checkinAddress);
    await until(
      async () => ((await product.api('GET', `/watches/${id}`)).body as { state: string }).state === 'up',
      'up',
    );
  });
});
