import { execFile, spawn } from 'node:child_process';
import { chownSync, existsSync, rmSync, writeFileSync } from 'node:fs';
import { createServer, connect, type Socket } from 'node:net';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { createTransport } from 'nodemailer';
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import { openStore } from '@/store/db/open';
import { ask, freePort, ownAccount, makeCheckin, startProduct, tempFolder, until } from '../helpers';
import { startWithin, type Within } from '../within';

const run = promisify(execFile);
const DOMAIN = 'in.ternferry.test';
const host = '127.0.0.1';

interface MailWatch {
  id: number;
  mailAddress: string;
}

interface CheckinEndpoint {
  open: boolean;
  problem: string | null;
  mails: { from: string; subject: string | null; refused: string | null; taken: { is: string }[] }[];
}

/** One SMTP dialogue by hand: sends each line when the one before was answered. */
function talk(port: number, lines: readonly string[]): Promise<string[]> {
  return new Promise((resolve, reject) => {
    const answers: string[] = [];
    let rest = '';
    const left = [...lines];
    const socket = connect(port, host);
    socket.on('error', reject);
    socket.on('close', () => resolve(answers));
    socket.on('data', (chunk: Buffer) => {
      rest += chunk.toString();
      for (let end = rest.indexOf('\r\n'); end >= 0; end = rest.indexOf('\r\n')) {
        const line = rest.slice(0, end);
        rest = rest.slice(end + 2);
        if (line[3] === '-') continue;
        answers.push(line);
        const next = left.shift();
        if (next === undefined) socket.end();
        else socket.write(`${next}\r\n`);
      }
    });
  });
}

describe('reports by mail', () => {
  let product: Within;
  let port: number;
  let job: MailWatch;

  const openDoor = (settings: Record<string, unknown>) =>
    product.api('PATCH', '/mail-reports', { open: true, port, domain: DOMAIN, ...settings });
  const door = async () => (await product.api('GET', '/mail-reports')).body as CheckinEndpoint;
  const make = async (rest: Record<string, unknown> = {}) =>
    (await makeCheckin(product, rest)) as unknown as MailWatch;
  const reports = async (id: number) =>
    (await product.api('GET', `/watches/${id}/reports?limit=100`)).body as Record<string, unknown>[];
  const send = (mail: Record<string, unknown>) =>
    createTransport({ host, port, ignoreTLS: true }).sendMail({ from: 'quay@ternferry.test', ...mail });
  const refused = async (mail: Record<string, unknown>) => {
    const error = await send(mail).then(
      () => null,
      (e: Error & { response: string }) => e,
    );
    return error?.response ?? 'taken';
  };

  beforeAll(async () => {
    product = await startWithin();
    port = await freePort();
    job = await make();
  });
  afterAll(async () => {
    expect(await product.stop()).toBe(0);
    rmSync(product.folder, { recursive: true, force: true });
  });

  it('are off until somebody opens the door', async () => {
    expect(await door()).toMatchObject({ open: false, problem: null, mails: [] });
    expect(job.mailAddress).toBeNull();
    await expect(talk(port, [])).rejects.toThrow('ECONNREFUSED');
  });

  it('need a domain and a port that is free', async () => {
    expect((await openDoor({ domain: '' })).body).toMatchObject({
      errors: [{ field: 'domain', message: 'Expected a domain, got nothing.' }],
    });
    expect((await openDoor({ domain: 'in ternferry' })).body).toMatchObject({
      errors: [{ field: 'domain', message: expect.stringContaining('got "in ternferry"') }],
    });
    const taken = createServer();
    await new Promise<void>((resolve) => taken.listen(0, host, resolve));
    const other = (taken.address() as { port: number }).port;
    expect((await openDoor({ port: other })).body).toMatchObject({
      errors: [{ field: 'port', message: `Expected a free port; something listens at ${other} already.` }],
    });
    expect((await door()).open).toBe(false);
    expect((await openDoor({})).status).toBe(200);
    // What cannot be opened leaves it as it was.
    expect((await openDoor({ port: other })).status).toBe(422);
    expect(await talk(port, ['QUIT'])).toEqual([
      expect.stringContaining('220 in.ternferry.test'),
      expect.any(String),
    ]);
    await new Promise((resolve) => taken.close(resolve));
  });

  it('count at an address of the check-in’s own, however it is written', async () => {
    const { mailAddress } = (await product.api('GET', `/watches/${job.id}`)).body as MailWatch;
    expect(mailAddress).toMatch(/^[a-z2-7]{32}@in\.ternferry\.test$/);
    job = { ...job, mailAddress };
    await send({ to: mailAddress, subject: 'Manifest backup: success', text: '214 files\npassword=quay9' });
    await send({ to: mailAddress.toUpperCase(), subject: 'Manifest backup FAILED', text: 'disk full' });
    expect(await reports(job.id)).toMatchObject([
      { is: 'failed', output: 'Manifest backup FAILED\n\ndisk full' },
      {
        is: 'done',
        client: host,
        agent: 'mail from quay@ternferry.test',
        output: 'Manifest backup: success\n\n214 files\npassword=•••',
      },
    ]);
    await until(
      async () =>
        ((await product.api('GET', `/watches/${job.id}`)).body as { state: string }).state === 'down',
      'down after the mail that says failed',
    );
  });

  it.each([
    [{ subject: 'Report', text: 'the backup has started' }, 'begun', 'Report\n\nthe backup has started'],
    [
      { subject: 'Report', html: '<p>Steps: <b>3</b><br>completed</p>' },
      'done',
      'Report\n\nSteps: 3\ncompleted',
    ],
    [{ subject: 'Zählung fertig', text: 'müde, ok' }, 'done', 'Zählung fertig\n\nmüde, ok'],
    [{ subject: 'Tide table', text: 'as usual' }, 'note', 'Tide table\n\nas usual'],
    [{ subject: '', text: '' }, 'note', null],
    [
      { subject: 'ok', text: 'see file', attachments: [{ filename: 'a.log', content: 'error error' }] },
      'done',
      'ok\n\nsee file',
    ],
  ])('read %j as %s', async (mail, is, output) => {
    await send({ to: job.mailAddress, ...mail });
    expect((await reports(job.id))[0]).toMatchObject({ is, output });
  });

  it('are read by the words of the check-in, wherever these are set', async () => {
    const everywhere = { level: 'kind', kind: 'checkin' };
    const own = await make({ name: 'Payroll export', mailDone: 'versandt', section: 'Office' });
    await send({ to: own.mailAddress, subject: 'Lohnlauf versandt' });
    expect((await reports(own.id))[0]).toMatchObject({ is: 'done' });
    await product.api('PATCH', '/shared-settings', { ...everywhere, mailFailed: 'abgebrochen' });
    await send({ to: own.mailAddress, subject: 'Lohnlauf abgebrochen' });
    expect((await reports(own.id))[0]).toMatchObject({ is: 'failed' });
    const given = await product.api('PATCH', '/shared-settings', { ...everywhere, inherit: ['mailFailed'] });
    expect(given.status).toBe(200);
    await send({ to: own.mailAddress, subject: 'Lohnlauf abgebrochen' });
    expect((await reports(own.id))[0]).toMatchObject({ is: 'note' });
  });

  it('count for several check-ins at once, each by its own words', async () => {
    const [a, b] = [await make({ name: 'Rota' }), await make({ name: 'Fares', mailFailed: 'late' })];
    await send({ to: [a.mailAddress, b.mailAddress, a.mailAddress], subject: 'late, but ok' });
    expect((await reports(a.id)).map((report) => report.is)).toEqual(['done']);
    expect((await reports(b.id)).map((report) => report.is)).toEqual(['failed']);
  });

  it('count for twenty at once, and are put off for more', async () => {
    const many: string[] = [];
    for (let i = 0; i <= 20; i += 1) many.push((await make({ name: `Pump ${i}` })).mailAddress!);
    const { accepted, rejected, rejectedErrors } = (await send({ to: many, subject: 'done' })) as unknown as {
      accepted: string[];
      rejected: string[];
      rejectedErrors: { response: string }[];
    };
    expect([accepted.length, rejected]).toEqual([20, [many[20]]]);
    expect(rejectedErrors[0]!.response).toContain('452 4.5.3 Too many recipients at once.');
  });

  it('are not passed on to anybody else', async () => {
    const before = (await reports(job.id)).length;
    const nobody = `${'a'.repeat(32)}@${DOMAIN}`;
    expect(await refused({ to: 'office@ternferry.test' })).toBe(
      '550 5.7.1 Nothing is passed on: this takes mail for in.ternferry.test only.',
    );
    for (const to of [nobody, `x@${DOMAIN}`]) {
      expect(await refused({ to })).toBe('550 5.1.1 There is no check-in at this address.');
    }
    const [local] = job.mailAddress.split('@');
    expect(
      await talk(port, [
        'EHLO quay',
        'MAIL FROM:<a@b.test>',
        `RCPT TO:<${local}%far.example@relay.example>`,
        'QUIT',
      ]),
    ).toContainEqual(expect.stringMatching(/^550 5\.7\.1/));
    expect(await talk(port, ['EHLO quay', 'AUTH PLAIN AGEAYg==', 'VRFY root', 'QUIT'])).toEqual([
      expect.stringMatching(/^220/),
      expect.stringMatching(/^250/),
      expect.stringMatching(/^50[02]/),
      expect.stringMatching(/^25[02]/),
      expect.stringMatching(/^221/),
    ]);
    expect(await reports(job.id)).toHaveLength(before);
  });

  it('come from those who may', async () => {
    const own = await make({ name: 'Safe', mailFrom: 'safe@ternferry.test, @crew.test' });
    expect(await refused({ to: own.mailAddress, subject: 'ok' })).toBe(
      '550 5.7.1 This check-in takes no mail from quay@ternferry.test.',
    );
    await send({ from: 'heating@crew.test', to: own.mailAddress, subject: 'ok' });
    expect(await reports(own.id)).toHaveLength(1);
    const wrong = await product.api('PATCH', `/watches/${own.id}`, { mailFrom: 'safe@ternferry.test, quay' });
    expect(wrong.body).toMatchObject({
      errors: [{ field: 'mailFrom', message: expect.stringContaining('got "quay"') }],
    });
  });

  it('are not larger than allowed, and are refused where they cannot be read', async () => {
    expect((await openDoor({ largestKb: 100 })).status).toBe(200);
    const before = (await reports(job.id)).length;
    const to = job.mailAddress;
    expect(await refused({ to, subject: 'ok', text: 'a line\n'.repeat(20_000) })).toMatch(/^552/);
    // One that does not say its size beforehand.
    const long = `${'x'.repeat(70)}\r\n`.repeat(2_000);
    expect(
      await talk(port, [
        'EHLO q',
        'MAIL FROM:<a@b.test>',
        `RCPT TO:<${to}>`,
        'DATA',
        `Subject: ok\r\n\r\n${long}.`,
        'QUIT',
      ]),
    ).toContain('552 5.3.4 Expected at most 100 kB.');
    const parts = `Subject: ok\r\nContent-Type: multipart/mixed; boundary=b\r\n\r\n${'--b\r\n\r\nx\r\n'.repeat(5_000)}.`;
    expect(
      await talk(port, ['EHLO q', 'MAIL FROM:<a@b.test>', `RCPT TO:<${to}>`, 'DATA', parts, 'QUIT']),
    ).toContainEqual(expect.stringMatching(/^554 5\.6\.0 Expected a mail that can be read/));
    expect(await reports(job.id)).toHaveLength(before);
    expect((await door()).mails.slice(0, 2)).toMatchObject([
      { refused: expect.stringContaining('can be read'), taken: [] },
      { refused: '5.3.4 Expected at most 100 kB.', from: 'a@b.test' },
    ]);
  });

  it('that are hard to read keep nobody from checking in', async () => {
    expect((await openDoor({ largestKb: 2000 })).status).toBe(200);
    const html = '<p>a</p>'.repeat(200_000);
    let over = false;
    const heard = await makeCheckin(product, { name: 'Beside' });
    const reading = [1, 2].map(() =>
      send({ to: job.mailAddress, subject: 'ok', html }).finally(() => (over = true)),
    );
    let during = 0;
    while (!over) {
      expect((await ask(heard.checkinAddress)).status).toBe(200);
      if (!over) during += 1;
    }
    expect(during).toBeGreaterThan(5);
    await Promise.all(reading);
  });

  it('come over few connections from one place at once', async () => {
    const sockets: Socket[] = [];
    const greeting = () =>
      new Promise<string>((resolve) => {
        const socket = connect(port, host);
        sockets.push(socket);
        socket.once('data', (chunk: Buffer) => resolve(chunk.toString()));
      });
    const greetings = [];
    for (let i = 0; i < 9; i += 1) greetings.push(await greeting());
    expect(greetings.map((one) => one.slice(0, 3))).toEqual([...Array<string>(8).fill('220'), '421']);
    for (const socket of sockets) socket.destroy();
    await until(async () => (await talk(port, ['QUIT'])).at(-1)?.startsWith('221'), 'room again');
  });

  it('count at the old address as long as the old key does', async () => {
    const own = await make({ name: 'Changed' });
    await product.api('POST', `/watches/${own.id}/key`, { overlapSeconds: 60 });
    await send({ to: own.mailAddress, subject: 'ok' });
    const now = (await product.api('GET', `/watches/${own.id}`)).body as MailWatch & {
      oldAddress: { lastUsedAt: string | null };
    };
    expect(now.mailAddress).not.toBe(own.mailAddress);
    expect(now.oldAddress.lastUsedAt).not.toBeNull();
    await product.api('POST', `/watches/${own.id}/key`, { overlapSeconds: 0 });
    expect(await refused({ to: own.mailAddress, subject: 'ok' })).toMatch(/^550 5\.1\.1/);
  });

  const exim = ['/usr/sbin/exim4'].find((place) => existsSync(place) && process.getuid?.() === 0);
  if (!exim) process.stderr.write('exim4 is not installed, or this is not root: its test is left out\n');
  it.runIf(exim)('come from a real mail server that passes them on', async () => {
    const folder = tempFolder();
    const { uid = 0, gid = 0 } = ownAccount('Debian-exim');
    chownSync(folder, uid, gid);
    const configuration = join(folder, 'exim.conf');
    writeFileSync(
      configuration,
      [
        `spool_directory = ${folder}/spool`,
        `log_file_path = ${folder}/%s.log`,
        'primary_hostname = quay.ternferry.test',
        'keep_environment =',
        'begin routers',
        'out:',
        '  driver = manualroute',
        `  route_list = * ${host}`,
        '  self = send',
        '  transport = out',
        'begin transports',
        'out:',
        '  driver = smtp',
        '  user = Debian-exim',
        `  port = ${port}`,
        '  allow_localhost = true',
        'begin retry',
        '* * F,1m,1s',
        '',
      ].join('\n'),
      { mode: 0o644 },
    );
    try {
      const before = (await reports(job.id)).length;
      const child = spawn(exim!, [
        '-C',
        configuration,
        '-odf',
        '-f',
        'root@quay.ternferry.test',
        job.mailAddress,
      ]);
      child.stdin.end('Subject: Cron job of the quay: completed\n\nfrom a real mail server\n');
      const code = await new Promise((resolve) => child.once('exit', resolve));
      expect(code).toBe(0);
      await until(async () => (await reports(job.id)).length > before, 'the mail of exim');
      expect((await reports(job.id))[0]).toMatchObject({
        is: 'done',
        agent: 'mail from root@quay.ternferry.test',
        output: 'Cron job of the quay: completed\n\nfrom a real mail server',
      });
      const waiting = async () => (await run(exim!, ['-C', configuration, '-bpc'])).stdout.trim();
      await until(async () => (await waiting()) === '0', 'exim has nothing left to send');
    } finally {
      rmSync(folder, { recursive: true, force: true });
    }
  });

  it('that were answered outlast a crash, and the door is open again after it', async () => {
    const own = await make({ name: 'Crash' });
    await product.stop();
    const shipped = await startProduct({ folder: product.folder });
    await send({ to: own.mailAddress, subject: 'ok, before the crash' });
    process.kill(shipped.enginePid(), 'SIGKILL');
    await shipped.kill();
    const db = await openStore(product.folder);
    expect(await db('reports').where({ watch_id: own.id }).pluck('kind')).toEqual(['done']);
    await db.destroy();
    product = await startWithin({}, product.folder);
    await send({ to: own.mailAddress, subject: 'ok, after it' });
    expect(await reports(own.id)).toHaveLength(2);
  });

  it('do not keep the product from starting where their port is taken', async () => {
    expect(await product.stop()).toBe(0);
    const taken = createServer();
    await new Promise<void>((resolve) => taken.listen(port, host, resolve));
    const said = vi.spyOn(console, 'log').mockReturnValue();
    product = await startWithin({}, product.folder);
    expect(await door()).toMatchObject({ open: true, problem: expect.stringContaining('listens at') });
    expect(said.mock.calls.join()).toContain('mail is not taken in');
    said.mockRestore();
    await new Promise((resolve) => taken.close(resolve));
    expect((await openDoor({})).status).toBe(200);
    expect((await door()).problem).toBeNull();
    expect((await openDoor({ open: false })).status).toBe(200);
    await expect(talk(port, [])).rejects.toThrow('ECONNREFUSED');
  });
});
