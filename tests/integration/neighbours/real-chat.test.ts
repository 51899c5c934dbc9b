import { readFileSync } from 'node:fs';
import { connect, type Socket } from 'node:net';
import type { Element } from '@xmpp/client';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Heard } from '@/channels/frame/kind';
import { irc, type IrcSettings } from '@/channels/kinds/irc';
import { mqtt, type MqttSettings } from '@/channels/kinds/mqtt';
import { xmpp, type XmppSettings } from '@/channels/kinds/xmpp';
import { encryptBy, withoutResuming } from '@/channels/transport/xmpp-stream';
import { outgoing, UNHEARD } from '../../unit/channels/outgoing';
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
  say(room: string, text: string): void {
    this.socket.write(`PRIVMSG ${room} :${text}\r\n`);
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

  it('is listened to before anything is said there, and answered', async () => {
    const guest = await Guest.enter(plain, '#crew');
    const heard: Heard[] = [];
    const line = irc.connect!(settings({ nick: 'ear' }), { ...UNHEARD, onHeard: (one) => heard.push(one) });
    try {
      line.listen!();
      await until(() => /:ear!\S+ JOIN :?#crew/.test(guest.heard), 'in the room');
      guest.say('#crew', 'mine 3');
      guest.say('ear', 'mine 4');
      await until(() => heard.length > 0, 'heard');
      await line.reply!('Several are open.', heard[0]!, SIGNAL());
      await until(() => guest.heard.includes('PRIVMSG #crew :Several are open.'), 'answered');
      // What is whispered is no answer in the room.
      expect(heard).toEqual([{ by: 'ines', text: 'mine 3', to: null }]);
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
    house.on('message', (topic, payload) => {
      if (topic.endsWith('messages')) heard.push([topic, JSON.parse(payload.toString()) as never]);
    });
    await house.subscribeAsync('lantern/messages');
    let opened = 0;
    const line = mqtt.connect!(settings(), { ...UNHEARD, onOpen: () => (opened += 1) });
    expect(await line.send(outgoing(), SIGNAL())).toEqual({ ok: true, retry: false, said: 'taken' });
    expect(opened).toBe(1);
    await until(() => heard.length === 1, 'heard');
    expect(heard[0]![1]).toMatchObject({ specversion: '1.0', type: 'lantern.down', subject: 'watches/3' });
    const as = {
      state: 'down' as const,
      wantsHand: false,
      name: 'Fähre',
      stateSinceAt: '2026-11-26T08:00:00.000Z',
    };
    const states = [3, 4].map((id) => ({ id, as }));
    expect(await line.mirror!(states, SIGNAL())).toBeNull();
    expect(await line.mirror!([{ id: 4, as: null }], SIGNAL())).toBeNull();
    const kept = new Map<string, string>();
    house.on('message', (topic, payload, { retain }) => retain && kept.set(topic, payload.toString()));
    await house.subscribeAsync(['lantern/watches/+', 'lantern/alive']);
    await until(() => kept.size === 2, 'kept');
    expect(JSON.parse(kept.get('lantern/watches/3')!)).toEqual(as);
    expect(kept.get('lantern/alive')).toBe('yes');
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
  let trusted: string;
  const settings = (rest: object = {}): XmppSettings =>
    xmpp.schema.validateSync({
      account: `lantern@${DOMAIN}`,
      password: 'tide',
      to: ROOM,
      host,
      port,
      authority: trusted,
      ...rest,
    }) as XmppSettings;

  function configure(at: number, rest: string[]): string {
    return servers.write(
      `prosody-${at}.cfg.lua`,
      [
        'run_as_root = true',
        'daemonize = false',
        `pidfile = "${servers.folder}/prosody-${at}.pid"`,
        `data_path = "${servers.folder}/prosody"`,
        `interfaces = { "${host}" }`,
        `c2s_ports = { ${at} }`,
        's2s_ports = {}',
        'c2s_require_encryption = false',
        'modules_enabled = { "saslauth", "tls", "ping", "smacks", "disco" }',
        ...rest,
        'authentication = "internal_hashed"',
        'log = { warn = "*console" }',
        `VirtualHost "${DOMAIN}"`,
        `Component "rooms.${DOMAIN}" "muc"`,
        '',
      ].join('\n'),
    );
  }

  beforeAll(async () => {
    port = await freePort();
    const { cert, key, authority } = await servers.certificate([DOMAIN]);
    trusted = authority;
    file = configure(port, [`ssl = { certificate = "${cert}", key = "${key}" }`]);
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
    await encryptBy(one, trusted);
    const present: string[] = [];
    one.on('stanza', (stanza: Element) => {
      if (stanza.name === 'presence') present.push(stanza.attrs.from ?? '');
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
    const say = (to: string, text: string, type: string) =>
      one.send(xml('message', { to, type }, xml('body', {}, text)));
    return { heard, present, say, leave: () => one.stop() };
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

  it('is listened to before anything is said there, but not to what was said before, and answered', async () => {
    const ines = await guest(ROOM);
    await ines.say(ROOM, 'mine 1', 'groupchat');
    const heard: Heard[] = [];
    const around = { ...UNHEARD, onHeard: (one: Heard) => heard.push(one) };
    const line = xmpp.connect!(settings(), around);
    const person = xmpp.connect!(settings({ to: `ines@${DOMAIN}`, room: false }), around);
    try {
      line.listen!();
      await until(() => ines.present.some((from) => from.endsWith('/lantern')), 'in the room');
      await ines.say(ROOM, 'mine 3', 'groupchat');
      await until(() => heard.length > 0, 'heard');
      await line.reply!('Several are open.', heard[0]!, SIGNAL());
      await until(() => ines.heard.includes('Several are open.'), 'answered');
      expect(heard).toEqual([{ by: 'ines', text: 'mine 3', to: null }]);
      await line.close();
      person.listen!();
      await until(async () => {
        await ines.say(`lantern@${DOMAIN}`, 'not mine', 'chat');
        return heard.length > 1;
      }, 'heard by itself');
      expect(heard[1]).toEqual({ by: 'ines', text: 'not mine', to: null });
    } finally {
      await line.close();
      await person.close();
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
    expect(await xmpp.send(settings({ authority: '' }), outgoing(), SIGNAL())).toEqual({
      ok: false,
      retry: true,
      said: expect.stringMatching(/^No connection: \w*(?:CERT|ISSUER|SIGNATURE)\w*$/) as string,
    });
    const open = await freePort();
    await servers.start(prosody!, ['--config', configure(open, ['modules_disabled = { "tls" }'])], open);
    expect(await xmpp.send(settings({ port: open }), outgoing(), SIGNAL())).toEqual({
      ok: false,
      retry: true,
      said: 'No connection: the server does not encrypt it',
    });
    expect(await xmpp.send(settings({ port: open, plain: true }), outgoing(), SIGNAL())).toMatchObject({
      ok: true,
    });
    expect(await xmpp.send(settings({ port: 1 }), outgoing(), SIGNAL())).toEqual({
      ok: false,
      retry: true,
      said: 'No connection: ECONNREFUSED',
    });
  });
});
