import { chownSync, existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { mail, type MailSettings } from '@/channels/kinds/mail';
import { outgoing } from '../../unit/channels/outgoing';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { freePort, ownAccount, until } from '../helpers';
import { came, lookAt } from '../looks/looks';
import { findServer, host, RealServers } from '../real-server';

const root = process.getuid?.() === 0;
if (!root) process.stderr.write('These tests start mail servers as root, and this is not root: left out\n');
const exim = root ? findServer('exim4', '/usr/sbin/exim4') : null;
const login = (name: string) => `/usr/lib/dovecot/${name}-login`;
// Its packages for IMAP and POP3 come one by one; with one alone it is half a server.
const halves = ['imap', 'pop3'].map((name) => findServer(`dovecot for ${name.toUpperCase()}`, login(name)));
const dovecot = root && !halves.includes(null) ? findServer('dovecot', '/usr/sbin/dovecot') : null;

const NAME = 'mail.ternferry.test';
const SIGN_IN = { user: 'office', password: 'the boats sail at dawn' };
const servers = new RealServers();
const { folder } = servers;
let cert: string;
let key: string;
let trust: { authority: string; servername: string };

beforeAll(async () => {
  const made = await servers.certificate([NAME]);
  [cert, key] = [made.cert, made.key];
  trust = { authority: made.authority, servername: NAME };
});
afterAll(() => servers.endAll());

/** An exim that takes sign-ins over TLS only, in these ways. */
async function startExim(ways: string, rest: string[] = []): Promise<number> {
  const port = await freePort();
  const { uid = 0, gid = 0 } = ownAccount('Debian-exim');
  chownSync(folder, uid, gid);
  const right = (user: string, password: string) =>
    `\${if and{{eq{${user}}{${SIGN_IN.user}}}{eq{${password}}{${SIGN_IN.password}}}}}`;
  const authenticators: Record<string, string[]> = {
    PLAIN: [
      'plain:',
      '  public_name = PLAIN',
      '  server_prompts = :',
      `  server_condition = ${right('$auth2', '$auth3')}`,
    ],
    LOGIN: [
      'login:',
      '  public_name = LOGIN',
      '  server_prompts = Username:: : Password::',
      `  server_condition = ${right('$auth1', '$auth2')}`,
    ],
  };
  const file = servers.write(
    `exim-${port}.conf`,
    [
      `spool_directory = ${folder}/spool`,
      `log_file_path = ${folder}/%s.log`,
      `pid_file_path = ${folder}/exim-${port}.pid`,
      `primary_hostname = ${NAME}`,
      'keep_environment =',
      `tls_certificate = ${cert}`,
      `tls_privatekey = ${key}`,
      'tls_advertise_hosts = *',
      'auth_advertise_hosts = ${if eq{$tls_in_cipher}{}{}{*}}',
      ...(rest.length > 0 ? ['acl_smtp_rcpt = check', ...rest] : []),
      'begin authenticators',
      ...ways.split(' ').flatMap((way) => {
        const [name, ...lines] = authenticators[way]!;
        return [name!, '  driver = plaintext', ...lines];
      }),
      '',
    ].join('\n'),
  );
  await servers.start(exim!, ['-C', file, '-bdf', '-oX', `${host}.${port}`], port);
  return port;
}

describe('mail goes through a real server', () => {
  it.runIf(exim)('exim4: with STARTTLS and a sign-in, into a mailbox; a stranger is refused', async () => {
    const port = await startExim('PLAIN', [
      'begin acl',
      'check:',
      '  deny message = This house forwards nothing for strangers.',
      '       !authenticated = *',
      '  deny message = There is no such mailbox.',
      '       !domains = ternferry.test',
      '  accept',
      'begin routers',
      'box:',
      '  driver = accept',
      '  transport = box',
      'begin transports',
      'box:',
      '  driver = appendfile',
      `  file = ${folder}/box`,
      '  user = Debian-exim',
      '  create_directory = false',
    ]);
    const settings: MailSettings = {
      ...SIGN_IN,
      host: NAME,
      port,
      security: 'starttls',
      from: 'Calm Lantern <lantern@ternferry.test>',
      to: 'office@ternferry.test',
      authority: trust.authority,
    };
    const send = (rest: Partial<MailSettings> = {}) =>
      mail.send({ ...settings, host, ...rest }, outgoing(), new AbortController().signal);
    // The certificate is for a name; an address is another.
    expect(await send()).toMatchObject({
      ok: false,
      retry: true,
      said: expect.stringMatching(/certificate/i),
    });
    const named = { servername: NAME } as object;
    expect(await send(named)).toMatchObject({ ok: true, said: expect.stringContaining('250 OK') });
    await until(() => existsSync(join(folder, 'box')), 'the mail is in the box', 20_000);
    const box = readFileSync(join(folder, 'box'), 'utf8');
    expect(box).toContain('Subject: Booking site is down');
    expect(box).toContain('References: <conversation.w3.1795680000000@ternferry.test>');
    expect(await send({ ...named, user: '', password: '' })).toMatchObject({
      ok: false,
      retry: false,
      said: expect.stringContaining('forwards nothing for strangers'),
    });
    expect(await send({ ...named, to: 'a@elsewhere.test' })).toMatchObject({
      ok: false,
      retry: false,
      said: expect.stringContaining('no such mailbox'),
    });
    expect(await send({ ...named, password: 'wrong' })).toMatchObject({
      ok: false,
      retry: true,
      said: expect.stringMatching(/^The mail server refused the sign-in/),
    });
  });
});

describe('mail looks meet real servers', () => {
  it.runIf(exim)('exim4: greeting, STARTTLS, and sign-in by PLAIN', async () => {
    const port = await startExim('PLAIN LOGIN');
    const settings = { service: 'smtp', host, port, ...trust };
    const fine = await lookAt('mail', { ...settings, ...SIGN_IN, greeting: NAME });
    expect(fine).toMatchObject({ verdict: 'fine', evidence: { certificate: { names: [NAME] } } });
    expect(fine.evidence!.facts!.find((fact) => fact.label === 'offers')!.value).toContain(
      'AUTH PLAIN LOGIN',
    );
    expect(await came('mail', { ...settings, ...SIGN_IN, password: 'fog' })).toBe('sign-in.refused');
    expect(await came('mail', { ...settings, servername: '' })).toBe('tls.wrong-name');
    expect(await lookAt('mail', { ...settings, ...SIGN_IN, security: 'none' })).toMatchObject({
      cause: 'sign-in.refused',
      detail: { said: 'none is offered on this connection' },
    });
    expect(await came('certificate', { host, port, starttls: 'smtp', ...trust })).toBe('fine');
  });

  it.runIf(exim)('exim4: sign-in by LOGIN where nothing else is offered', async () => {
    const settings = { service: 'smtp', host, port: await startExim('LOGIN'), ...trust };
    expect(await came('mail', { ...settings, ...SIGN_IN })).toBe('fine');
    expect(await came('mail', { ...settings, ...SIGN_IN, user: 'nobody' })).toBe('sign-in.refused');
  });

  it.runIf(dovecot)('dovecot: IMAP with STARTTLS and from the first byte, sign-in, and POP3', async () => {
    const [imap, imaps, pop3] = [await freePort(), await freePort(), await freePort()];
    servers.write('users', `${SIGN_IN.user}:{PLAIN}${SIGN_IN.password}\n`);
    const file = servers.write(
      'dovecot.conf',
      `base_dir = ${folder}/dovecot
      log_path = ${folder}/dovecot.log
      protocols = imap pop3
      listen = ${host}
      ssl = required
      ssl_cert = <${cert}
      ssl_key = <${key}
      auth_failure_delay = 0
      passdb {
        driver = passwd-file
        args = ${folder}/users
      }
      userdb {
        driver = static
        args = uid=nobody gid=nogroup home=${folder}/%u
      }
      mail_location = maildir:${folder}/mail/%u
      service imap-login {
        inet_listener imap {
          port = ${imap}
        }
        inet_listener imaps {
          port = ${imaps}
          ssl = yes
        }
      }
      service pop3-login {
        inet_listener pop3 {
          port = ${pop3}
        }
        inet_listener pop3s {
          port = 0
        }
      }
      `,
    );
    await servers.start(dovecot!, ['-F', '-c', file], imap);
    const settings = { service: 'imap', host, port: imap, ...trust };
    expect(await came('mail', { ...settings, ...SIGN_IN })).toBe('fine');
    expect(await came('mail', { ...settings, ...SIGN_IN, password: 'fog' })).toBe('sign-in.refused');
    expect(await came('mail', { ...settings, port: imaps, security: 'tls', ...SIGN_IN })).toBe('fine');
    expect(await came('certificate', { host, port: imap, starttls: 'imap', ...trust })).toBe('fine');
    expect(await came('certificate', { host, port: pop3, starttls: 'pop3', ...trust })).toBe('fine');
  });
});
