import { readFileSync } from 'node:fs';
import { connect, type Socket } from 'node:net';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { irc, type IrcSettings } from '@/channels/kinds/irc';
import { mqtt, type MqttSettings } from '@/channels/kinds/mqtt';
import { withoutResuming, xmpp, type XmppSettings } from '@/channels/kinds/xmpp';
import { outgoing } from '../../unit/channels/outgoing';
import { freePort, ownAccount, until } from '../helpers';
import { findServer, host, RealServers } from '../real-server';

const ngircd = findServer('ngircd', '/usr/sbin/ngircd');
const prosody = process.getuid?.() === 0 ? findServer('prosody', '/usr/bin/prosody') : null;
const mosquitto = findServer('mosquitto', '/usr/sbin/mosquitto');
const servers = new RealServers();
const SIGNAL = () => new AbortController().signal;
const NAME = 'chat.ternferry.test';

afterAll(() => servers.endAll());

/** Somebody who is in the room, and hears what is said there. */
class Guest {
  heard = '';
  private constructor(private readonly socket: Socket) {
    socket.on('data', (chunk) => {
      const text = String(chunk);
      this.heard += text;
      for (const [, token] of text.matchAll(/^PING (.*)\r$/gm)) socket.write(`PONG ${token!}\r\n`);
    });
  }
  static async enter(port: number, room: string, mode = ''): Promise<Guest> {
    const guest = new Guest(connect(port, host));
    guest.socket.write('NICK ines\r\nUSER ines 0 * :Ines\r\n');
    await until(() => guest.heard.includes(' 001 '), 'registered');
    guest.socket.write(`JOIN ${room}\r\n`);
    await until(() => guest.heard.includes(' 366 '), 'in the room');
    if (mode !== '') {
      guest.socket.write(`MODE ${room} ${mode}\r\n`);
      await until(() => guest.heard.includes('MODE'), 'mode');
    }
    return guest;
  }
  leave(): void {
    this.socket.destroy();
  }
}

describe.runIf(ngircd)('a real IRC server', () => {
  let plain: number;
  let secure: number;
  let authority: string;
  const settings = (rest: object = {}): IrcSettings =>
    irc.schema.validateSync({
      host,
      port: secure,
      tls: true,
      authority,
      room: '#crew',
      ...rest,
    }) as IrcSettings;

  beforeAll(async () => {
    [plain, secure] = [await freePort(), await freePort()];
    const made = await servers.certificate([NAME, host]);
    authority = made.authority;
    const { uid = 0, gid = 0 } = ownAccount('irc');
    const file = servers.write(
      'ngircd.conf',
      [
        '[Global]',
        `Name = ${NAME}`,
        'Info = practice',
        'Listen = 127.0.0.1',
        `Ports = ${plain}`,
        'MotdPhrase = hello',
        `ServerUID = ${uid}`,
        `ServerGID = ${gid}`,
        '[Limits]',
        'MaxConnectionsIP = 0',
        '[Options]',
        'DNS = no',
        'Ident = no',
        'PAM = no',
        '[SSL]',
        `CertFile = ${made.cert}`,
        `KeyFile = ${made.key}`,
        `Ports = ${secure}`,
        '',
      ].join('\n'),
    );
    await servers.start(ngircd!, ['-n', '-f', file], plain);
  });

  it('takes a message over TLS, in order, with signs and umlauts as they are', async () => {
    const guest = await Guest.enter(plain, '#crew');
    const line = irc.connect!(settings());
    try {
      const long = `Fähre ${'überfällig '.repeat(60)}`;
      expect(await line.send(outgoing({ lines: [long] }), SIGNAL())).toEqual({
        ok: true,
        retry: false,
        said: 'said in the room',
      });
      await until(() => guest.heard.includes('/watches/3'), 'heard');
      const texts = [...guest.heard.matchAll(/PRIVMSG #crew :(.*)\r/g)].map(([, text]) => text!);
      expect(texts[0]).toBe('▲ Booking site is down');
      expect(texts.slice(1, -1).join(' ')).toBe(long.trim());
      expect(texts.at(-1)).toBe('https://watch.ternferry.test/watches/3');
    } finally {
      await line.close();
      guest.leave();
    }
  });

  it('refuses a certificate nobody vouches for, a wrong key, and a room we may not write into', async () => {
    const unknown = await irc.send(settings({ authority: '' }), outgoing(), SIGNAL());
    expect(unknown).toMatchObject({ ok: false, retry: true });
    expect(unknown.said).toMatch(/UNABLE_TO|SELF_SIGNED/);
    const guest = await Guest.enter(plain, '#bridge', '+k tide');
    expect(await irc.send(settings({ room: '#bridge', key: 'ebb' }), outgoing(), SIGNAL())).toMatchObject({
      ok: false,
      retry: false,
      said: expect.stringContaining('key of the room is wrong') as string,
    });
    expect(
      await irc.send(settings({ room: '#bridge', key: 'tide' }), outgoing({ lines: [] }), SIGNAL()),
    ).toEqual({ ok: true, retry: false, said: 'said in the room' });
    guest.leave();
    const quiet = await Guest.enter(plain, '#quiet', '+m');
    expect(await irc.send(settings({ room: '#quiet' }), outgoing({ lines: [] }), SIGNAL())).toMatchObject({
      ok: false,
      retry: false,
      said: expect.stringContaining('may not write') as string,
    });
    expect((await irc.send(settings({ room: 'nobody' }), outgoing({ lines: [] }), SIGNAL())).said).toContain(
      'nobody of that name',
    );
    quiet.leave();
  }, 60_000);
});

describe.runIf(mosquitto)('a real MQTT broker', () => {
  let port: number;
  const settings = (rest: object = {}): MqttSettings =>
    mqtt.schema.validateSync({ host, port, user: 'lantern', password: 'tide', ...rest }) as MqttSettings;

  beforeAll(async () => {
    port = await freePort();
    const passwords = servers.write('mosquitto.pw', 'lantern:tide\nhouse:ebb\n', 0o644);
    const { execFileSync } = await import('node:child_process');
    execFileSync('mosquitto_passwd', ['-U', passwords]);
    servers.write('mosquitto.pw', readFileSync(passwords, 'utf8'));
    const acl = servers.write(
      'mosquitto.acl',
      'user lantern\ntopic write lantern/#\nuser house\ntopic read #\n',
    );
    const file = servers.write(
      'mosquitto.conf',
      `listener ${port} 127.0.0.1\nallow_anonymous false\npassword_file ${passwords}\nacl_file ${acl}\n`,
    );
    await servers.start(mosquitto!, ['-c', file], port);
  });

  it('gets each message as an event, and keeps how a watch is for whoever comes later', async () => {
    const { default: client } = await import('mqtt');
    const house = await client.connectAsync({ host, port, username: 'house', password: 'ebb' });
    const heard: [string, Record<string, unknown>][] = [];
    house.on('message', (topic, payload) => heard.push([topic, JSON.parse(payload.toString()) as never]));
    await house.subscribeAsync('lantern/messages');
    const line = mqtt.connect!(settings());
    expect(await line.send(outgoing(), SIGNAL())).toEqual({ ok: true, retry: false, said: 'taken' });
    await until(() => heard.length === 1, 'heard');
    expect(heard[0]![1]).toMatchObject({ specversion: '1.0', type: 'lantern.down', subject: 'watches/3' });
    await house.subscribeAsync('lantern/watches/3');
    await until(() => heard.length === 2, 'kept');
    expect(heard[1]).toEqual([
      'lantern/watches/3',
      { state: 'down', name: 'Booking site', since: '2026-11-26T08:00:00.000Z' },
    ]);
    await line.send(outgoing({ event: { kind: 'recovered', began: 0, ended: 1 } }), SIGNAL());
    await until(
      () => heard.some(([topic, { state }]) => topic === 'lantern/watches/3' && state === 'up'),
      'up',
    );
    await line.close();
    await house.endAsync();
  });

  it('refuses a wrong password in words, and is come back to when it was away', async () => {
    const wrong = await mqtt.send(settings({ password: 'ebb' }), outgoing(), SIGNAL());
    expect(wrong).toMatchObject({ ok: false, retry: true });
    expect(wrong.said).toMatch(/refused the account|does not let this account in/);
    expect(await mqtt.send(settings({ port: 1 }), outgoing(), SIGNAL())).toMatchObject({
      ok: false,
      retry: true,
      said: expect.stringContaining('No connection') as string,
    });
  });
});

describe.runIf(prosody)('a real XMPP server', () => {
  const DOMAIN = 'localhost';
  const ROOM = `crew@rooms.${DOMAIN}`;
  let port: number;
  let file: string;
  const settings = (rest: object = {}): XmppSettings =>
    xmpp.schema.validateSync({
      account: `lantern@${DOMAIN}`,
      password: 'tide',
      to: ROOM,
      host,
      port,
      plain: true,
      ...rest,
    }) as XmppSettings;

  beforeAll(async () => {
    port = await freePort();
    file = servers.write(
      'prosody.cfg.lua',
      [
        'run_as_root = true',
        'daemonize = false',
        `pidfile = "${servers.folder}/prosody.pid"`,
        `data_path = "${servers.folder}/prosody"`,
        `interfaces = { "${host}" }`,
        `c2s_ports = { ${port} }`,
        's2s_ports = {}',
        'c2s_require_encryption = false',
        'modules_enabled = { "saslauth", "ping", "smacks", "disco" }',
        'modules_disabled = { "s2s" }',
        'authentication = "internal_hashed"',
        'log = { warn = "*console" }',
        `VirtualHost "${DOMAIN}"`,
        `Component "rooms.${DOMAIN}" "muc"`,
        '',
      ].join('\n'),
    );
    const { execFileSync } = await import('node:child_process');
    for (const name of ['lantern', 'ines']) {
      execFileSync('prosodyctl', ['--root', '--config', file, 'register', name, DOMAIN, 'tide'], {
        stdio: 'ignore',
      });
    }
    await servers.start(prosody!, ['--config', file], port);
  });

  /** Somebody who hears what is said to them and in the room. */
  async function guest(room: string | null) {
    const { client, xml } = await import('@xmpp/client');
    const one = client({
      service: `xmpp://${host}:${port}`,
      domain: DOMAIN,
      username: 'ines',
      password: 'tide',
    });
    const heard: string[] = [];
    one.on('error', () => undefined);
    one.prependListener('element', withoutResuming);
    one.on('stanza', (stanza: { name: string; getChildText(name: string): string | null }) => {
      const body = stanza.name === 'message' ? stanza.getChildText('body') : null;
      if (body) heard.push(body);
    });
    await one.start();
    await one.send(xml('presence'));
    if (room) {
      await one.send(
        xml('presence', { to: `${room}/ines` }, xml('x', { xmlns: 'http://jabber.org/protocol/muc' })),
      );
      // A room that was just made is locked until its owner has said how it is to be.
      const submit = xml('x', { xmlns: 'jabber:x:data', type: 'submit' });
      const owner = xml('query', { xmlns: 'http://jabber.org/protocol/muc#owner' }, submit);
      await one.iqCaller.request(xml('iq', { type: 'set', to: room }, owner));
    }
    return { heard, leave: () => one.stop() };
  }

  it('takes a message in a room, once, with breaks and signs as they are', async () => {
    const ines = await guest(ROOM);
    const line = xmpp.connect!(settings());
    try {
      expect(await line.send(outgoing(), SIGNAL())).toEqual({
        ok: true,
        retry: false,
        said: 'said in the room',
      });
      const next = outgoing({ id: '2', title: 'Fähre <b>&</b> "up"', lines: [] });
      expect(await line.send(next, SIGNAL())).toMatchObject({ ok: true });
      await until(() => ines.heard.length >= 2, 'heard');
      expect(ines.heard).toEqual([
        '▲ Booking site is down\nNothing listens on port 443.\nSince Thu 26 Nov, 08:00 (UTC).\nhttps://watch.ternferry.test/watches/3',
        '▲ Fähre <b>&</b> "up"\nhttps://watch.ternferry.test/watches/3',
      ]);
    } finally {
      await line.close();
      await ines.leave();
    }
  });

  it('takes one for a person, and says that there is nobody', async () => {
    const ines = await guest(null);
    const answer = await xmpp.send(settings({ to: `ines@${DOMAIN}`, room: false }), outgoing(), SIGNAL());
    expect(answer).toEqual({ ok: true, retry: false, said: 'the server took it' });
    await until(() => ines.heard.length === 1, 'heard');
    await ines.leave();
    const nobody = await xmpp.send(settings({ to: `nobody@${DOMAIN}`, room: false }), outgoing(), SIGNAL());
    expect(nobody).toMatchObject({
      ok: false,
      said: expect.stringContaining('no such room or person') as string,
    });
  });

  it('refuses in words: a wrong password, no encryption, a server that is away', async () => {
    expect(await xmpp.send(settings({ password: 'ebb' }), outgoing(), SIGNAL())).toEqual({
      ok: false,
      retry: true,
      said: 'The account or its password was refused',
    });
    expect(await xmpp.send(settings({ plain: false }), outgoing(), SIGNAL())).toEqual({
      ok: false,
      retry: true,
      said: 'No connection: the server does not encrypt it',
    });
    expect(await xmpp.send(settings({ port: 1 }), outgoing(), SIGNAL())).toEqual({
      ok: false,
      retry: true,
      said: 'No connection: ECONNREFUSED',
    });
  });
});
