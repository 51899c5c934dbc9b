import { chownSync } from 'node:fs';
import type { AddressInfo } from 'node:net';
import { createTransport } from 'nodemailer';
import { SMTPServer } from 'smtp-server';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { bounceAddress } from '@/store/followers/bounce-addresses';
import { fetchFollower } from '@/store/followers/followers';
import { openStore } from '@/store/db/open';
import { openVault } from '@/store/db/vault';
import { ensureTakeKey } from '@/store/messages/take-links';
import { freePort, ownAccount, until } from '../helpers';
import { findServer, host, RealServers } from '../real-server';
import { withinProcess, type Within } from '../within';

const DOMAIN = 'back.ternferry.test';
const root = process.getuid?.() === 0;
const exim = root ? findServer('exim4', '/usr/sbin/exim4') : null;

/** What mail servers send when they could not deliver (RFC 3462, RFC 3464). */
const report = (status: string, said: string, action = 'failed') =>
  [
    'From: Mailer-Daemon@mail.ternferry.test',
    'Subject: Undelivered',
    'MIME-Version: 1.0',
    'Content-Type: multipart/report; report-type=delivery-status; boundary=b',
    '',
    '--b',
    'Content-Type: text/plain',
    '',
    'It did not go.',
    '--b',
    'Content-Type: message/delivery-status',
    '',
    'Reporting-MTA: dns; mail.ternferry.test',
    '',
    `Action: ${action}`,
    'Final-Recipient: rfc822;ines@gone.ternferry.test',
    `Status: ${status}`,
    `Diagnostic-Code: smtp; ${said}`,
    '',
    '--b--',
    '',
  ].join('\r\n');

describe('letters that come back', () => {
  let product: Within;
  let door = 0;
  let pageId = 0;
  withinProcess((one) => (product = one));

  beforeAll(async () => {
    door = await freePort();
    const set = { open: true, port: door, domain: DOMAIN, largestKb: 1000 };
    expect((await product.api('PATCH', '/mail-reports', set)).status).toBe(200);
  });

  const add = async (address: string) => {
    const { body } = await product.api('POST', `/pages/${pageId}/followers`, { address, consent: 'said so' });
    return (body as { id: number }).id;
  };
  const follower = async (id: number) =>
    (await product.api('GET', `/followers/${id}`)).body as {
      state: string;
      refusals: number;
      asideWhy: string | null;
      letters: { state: string; said: string }[];
    };
  const makePage = async (port: number) => {
    const settings = {
      host,
      port,
      security: 'none',
      from: 'letters@ternferry.test',
      to: 'office@ternferry.test',
    };
    const { body: channel } = await product.api('POST', '/channels', {
      kind: 'mail',
      name: `By ${port}`,
      settings,
    });
    const follow = { channelId: (channel as { id: number }).id, perHour: 1000, bounced: true };
    const page = { title: 'Ferries', slug: `ferries-${port}`, follow };
    pageId = ((await product.api('POST', '/pages', page)).body as { id: number }).id;
  };
  /** The address a follower’s letters come back to. */
  const addressOf = async (id: number) => {
    const db = await openStore(product.folder, { migrate: false });
    const key = await ensureTakeKey(db, openVault(product.folder));
    const address = bounceAddress((await fetchFollower(db, id))!, key, DOMAIN);
    await db.destroy();
    return address;
  };
  const sendBack = async (to: string, raw: string) => {
    const transport = createTransport({ host, port: door, ignoreTLS: true });
    try {
      return (await transport.sendMail({ envelope: { from: '', to: [to] }, raw })).response;
    } catch (error) {
      return (error as Error).message;
    } finally {
      transport.close();
    }
  };

  it('count where they say that there is no such address, and three put it aside', async () => {
    await makePage(await freePort());
    const id = await add('ines@gone.ternferry.test');
    const back = await addressOf(id);
    const gone = report('5.1.1', '550 5.1.1 nobody of that name');
    expect(await sendBack(back, gone)).toMatch(/^250/);
    // Mail servers on the way may change the case of an address.
    expect(await sendBack(back.toUpperCase(), gone)).toMatch(/^250/);
    expect(await follower(id)).toMatchObject({ state: 'follows', refusals: 2 });
    for (const other of [
      report('4.4.1', '451 4.4.1 later', 'delayed'),
      report('5.7.1', '550 5.7.1 it looks like spam'),
      report('2.0.0', '250 2.0.0 ok', 'delivered'),
      'Subject: Out of office\r\n\r\nBack on Monday.\r\n',
    ]) {
      expect(await sendBack(back, other)).toMatch(/^250/);
    }
    expect(await follower(id)).toMatchObject({ state: 'follows', refusals: 2 });
    await sendBack(back, report('5.0.0', '550 5.2.1 this mailbox is closed'));
    expect(await follower(id)).toMatchObject({
      ...{ state: 'aside', refusals: 3 },
      asideWhy: 'came back: 5.0.0 550 5.2.1 this mailbox is closed',
    });
  });

  it('are of nobody whose address was made up, or who has ended it', async () => {
    const id = await add('rui@gone.ternferry.test');
    const back = await addressOf(id);
    const gone = report('5.1.1', '550 5.1.1 nobody of that name');
    for (const made of [
      back.replace(/-\w{24}@/, `-${'0'.repeat(24)}@`),
      back.replace('back-', 'back-9'),
      `back-${id}@${DOMAIN}`,
      back.replace(DOMAIN, 'ternferry.test'),
    ]) {
      expect(await sendBack(made, gone), made).toMatch(/550/);
    }
    expect(await follower(id)).toMatchObject({ refusals: 0 });
    await product.api('DELETE', `/followers/${id}`);
    expect(await sendBack(back, gone)).toMatch(/550 5\.1\.1/);
  });

  describe('through a real mail server', () => {
    const servers = new RealServers();
    let far: SMTPServer;
    beforeAll(async () => {
      far = new SMTPServer({
        authOptional: true,
        disabledCommands: ['STARTTLS'],
        onRcptTo: (_, __, done) =>
          done(Object.assign(new Error('5.1.1 nobody of that name'), { responseCode: 550 })),
      });
      await new Promise<void>((resolve) => far.listen(0, host, resolve));
    });
    afterAll(async () => {
      await servers.endAll();
      await new Promise<void>((resolve) => far.close(() => resolve()));
    });

    it.runIf(exim)('that took a letter, and found later that nobody takes it', async () => {
      const port = await freePort();
      const { uid = 0, gid = 0 } = ownAccount('Debian-exim');
      chownSync(servers.folder, uid, gid);
      const farPort = (far.server.address() as AddressInfo).port;
      const out = (name: string, to: number) => [
        `${name}:`,
        '  driver = smtp',
        `  port = ${to}`,
        '  allow_localhost = true',
        '  hosts_try_fastopen =',
      ];
      const route = (name: string, domain: string) => [
        `${name}:`,
        '  driver = manualroute',
        `  domains = ${domain}`,
        `  route_list = * ${host}`,
        '  self = send',
        `  transport = ${name}`,
      ];
      const file = servers.write(
        'exim.conf',
        [
          `spool_directory = ${servers.folder}/spool`,
          `log_file_path = ${servers.folder}/%s.log`,
          `pid_file_path = ${servers.folder}/exim.pid`,
          'primary_hostname = mail.ternferry.test',
          'keep_environment =',
          'acl_smtp_rcpt = check',
          'begin acl',
          'check:',
          '  accept',
          'begin routers',
          ...route('back', DOMAIN),
          ...route('far', '*'),
          'begin transports',
          ...out('back', door),
          ...out('far', farPort),
          '',
        ].join('\n'),
      );
      await servers.start(exim!, ['-C', file, '-bdf', '-oX', `${host}.${port}`], port);
      await makePage(port);
      const id = await add('vera@gone.ternferry.test');
      await product.api('POST', '/incidents', {
        title: 'The winch rests',
        body: 'We look.',
        pageIds: [pageId],
      });
      await until(async () => (await follower(id)).refusals === 1, 'the letter came back', 50_000);
      const [letter] = (await follower(id)).letters;
      expect(letter).toMatchObject({ state: 'sent' });
      expect(letter!.said).toMatch(/^came back: 5\.\d\.\d .*550 5\.1\.1 nobody of that name/);
    });
  });
});
