import { execFile, spawn, type ChildProcess } from 'node:child_process';
import { existsSync, mkdirSync, rmSync, writeFileSync } from 'node:fs';
import { connect, createServer } from 'node:net';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { promisify } from 'node:util';
import type { Client, Element } from '@xmpp/client';
import { listen } from '@/standins/listener';
import type { RoomMode } from '@/standins/rooms/practice-room';
import { ServedRoom } from './served-room';

const run = promisify(execFile);
const SERVER = '/usr/bin/prosody';
const DOMAIN = 'chat.ternferry.test';
const ROOM = `crew@rooms.${DOMAIN}`;
const PASSWORD = 'tide';
const TRIES = 50;
const TRY_EVERY_MS = 200;
const LEAVE_MS = 2_000;
/** No answer of the server's own tool is waited for longer. */
const REGISTER_MS = 20_000;

/** How a room is closed to whoever is no member (XEP-0045 section 10.2). */
const MEMBERS_ONLY = 'muc#roomconfig_membersonly';

/** A room on a real XMPP server, where one is installed: somebody of the crew sits in it and reads along. */
export class XmppRoom extends ServedRoom {
  override readonly isThere = existsSync(SERVER);
  override readonly canBeListenedTo = true;
  override readonly modes = ['fine', 'refusing'] as const;
  private server: ChildProcess | null = null;
  private guest: Client | null = null;
  private port = 0;
  /** Resolves once somebody sits in the room; to why nobody does, where that went wrong. */
  ready: Promise<string | null> = Promise.resolve('not started');

  constructor(private readonly folder: string) {
    super('xmpp', 'Crew room on XMPP', 'XMPP, by a real server');
  }

  get how(): string {
    return `Account lantern@${DOMAIN}, password ${PASSWORD}, room ${ROOM}, server 127.0.0.1, port ${this.port}, unencrypted.`;
  }

  /** The server takes a moment; nobody waits for it. */
  async start(port: number): Promise<void> {
    this.port = port === 0 ? await somePort() : port;
    this.ready = this.open().then(
      () => null,
      (error: Error) => error.message,
    );
  }

  private async open(): Promise<void> {
    rmSync(this.folder, { recursive: true, force: true });
    mkdirSync(this.folder, { recursive: true });
    const file = join(this.folder, 'prosody.cfg.lua');
    writeFileSync(file, this.configuration());
    const asRoot = process.getuid?.() === 0 ? ['--root'] : [];
    for (const name of ['lantern', 'ines'])
      await run('prosodyctl', [...asRoot, '--config', file, 'register', name, DOMAIN, PASSWORD], {
        timeout: REGISTER_MS,
      });
    this.server = spawn(SERVER, ['--config', file], { stdio: 'ignore' });
    this.server.on('error', () => undefined);
    const endWithUs = () => void this.server?.kill('SIGTERM');
    process.once('exit', endWithUs);
    this.server.once('exit', () => process.off('exit', endWithUs));
    for (let i = 1; !(await isListening(this.port)); i += 1) {
      if (i === TRIES) throw new Error('the server does not listen');
      await sleep(TRY_EVERY_MS);
    }
    await this.sitDown();
  }

  private configuration(): string {
    return [
      'run_as_root = true',
      'daemonize = false',
      `pidfile = "${this.folder}/prosody.pid"`,
      `data_path = "${this.folder}/data"`,
      'interfaces = { "127.0.0.1" }',
      `c2s_ports = { ${this.port} }`,
      's2s_ports = {}',
      'c2s_require_encryption = false',
      'allow_unencrypted_plain_auth = true',
      'modules_enabled = { "saslauth", "ping", "disco" }',
      'authentication = "internal_plain"',
      'log = { error = "*console" }',
      `VirtualHost "${DOMAIN}"`,
      `Component "rooms.${DOMAIN}" "muc"`,
      '',
    ].join('\n');
  }

  private async sitDown(): Promise<void> {
    const { client, xml } = await import('@xmpp/client');
    const service = `xmpp://127.0.0.1:${this.port}`;
    const guest = client({ service, domain: DOMAIN, username: 'ines', password: PASSWORD });
    guest.on('error', () => undefined);
    // It goes when the server goes, and does not come back by itself.
    guest.reconnect.stop();
    guest.on('stanza', (stanza: Element) => {
      const body = stanza.name === 'message' ? stanza.getChildText('body') : null;
      if (body && !stanza.attrs.from?.endsWith('/ines')) this.keep(body);
    });
    await guest.start();
    this.guest = guest;
    const muc = xml('x', { xmlns: 'http://jabber.org/protocol/muc' });
    await guest.send(xml('presence', { to: `${ROOM}/ines` }, muc));
    await this.configure({});
  }

  /** Says how the room is to be, as its owner; one that was just made is locked until then. */
  private async configure(values: Record<string, string>): Promise<void> {
    const { xml } = await import('@xmpp/client');
    const fields = Object.entries(values).map(([name, value]) =>
      xml('field', { var: name }, xml('value', {}, value)),
    );
    const type = xml(
      'field',
      { var: 'FORM_TYPE' },
      xml('value', {}, 'http://jabber.org/protocol/muc#roomconfig'),
    );
    const form = xml('x', { xmlns: 'jabber:x:data', type: 'submit' }, type, ...fields);
    const query = xml('query', { xmlns: 'http://jabber.org/protocol/muc#owner' }, form);
    await this.guest!.iqCaller.request(xml('iq', { type: 'set', to: ROOM }, query));
  }

  /** Refusing, it is closed to whoever is no member. */
  override async setMode(mode: RoomMode): Promise<void> {
    await super.setMode(mode);
    if (this.guest) await this.configure({ [MEMBERS_ONLY]: mode === 'fine' ? '0' : '1' });
  }

  override write(by: string, text: string): void {
    super.write(by, text);
    void this.speak(text).catch(() => undefined);
  }

  private async speak(text: string): Promise<void> {
    const { xml } = await import('@xmpp/client');
    await this.guest?.send(xml('message', { to: ROOM, type: 'groupchat' }, xml('body', {}, text)));
  }

  async stop(): Promise<void> {
    await this.ready;
    const { server } = this;
    if (!server || server.exitCode !== null || server.signalCode !== null) return;
    const ended = new Promise((resolve) => server.once('exit', resolve));
    server.kill('SIGTERM');
    const late = setTimeout(() => server.kill('SIGKILL'), LEAVE_MS);
    await ended;
    clearTimeout(late);
  }
}

function isListening(port: number): Promise<boolean> {
  return new Promise((resolve) => {
    const socket = connect(port, '127.0.0.1', () => {
      socket.destroy();
      resolve(true);
    });
    socket.once('error', () => resolve(false));
  });
}

/** A port nobody listens at. */
async function somePort(): Promise<number> {
  const server = createServer();
  const port = await listen(server, 0);
  await new Promise((resolve) => server.close(resolve));
  return port;
}
