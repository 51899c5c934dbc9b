import { existsSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { AroundLine, Heard } from '@/channels/frame/kind';
import { NO_HOUSE, type House } from '@/channels/frame/house';
import { channelKind } from '@/channels/kinds/registry';
import { makeAuthority } from '@/standins/certificates';
import { Harbour } from '@/standins/harbour';
import type { PracticeRoom } from '@/standins/rooms/practice-room';
import type { ServedRoom } from '@/standins/rooms/served/served-room';
import { XmppRoom } from '@/standins/rooms/served/xmpp-room';
import { outgoing, UNHEARD } from '../../unit/channels/outgoing';
import { ROOT, tempFolder, until } from '../helpers';

const SIGNAL = new AbortController().signal;
const house: House = { ...NO_HOUSE, scripts: join(ROOT, 'practice', 'scripts') };
const folder = tempFolder();

let harbour: Harbour;

beforeAll(async () => {
  harbour = await Harbour.start({ basePort: 0, authority: await makeAuthority(), jobs: [], folder });
});
afterAll(async () => {
  await harbour.stop();
  rmSync(folder, { recursive: true });
});

const roomOf = (id: string): PracticeRoom => harbour.rooms.find((room) => room.id === id)!;
/** What a person reads there of where it is. */
const how = (id: string) => (roomOf(id) as ServedRoom).how;
const portOf = (id: string) => Number(/port (\d+)/.exec(how(id))![1]);

/** Each room with the kind of channel that leads there, and what is typed. */
const WAYS: [room: string, kind: string, settings: () => object][] = [
  [
    'letters',
    'mail',
    () => ({
      host: '127.0.0.1',
      port: portOf('letters'),
      security: 'none',
      from: 'lantern@ternferry.test',
      to: 'desk@ternferry.test',
    }),
  ],
  ['irc', 'irc', () => ({ host: '127.0.0.1', port: portOf('irc'), tls: false, room: '#crew' })],
  ['log', 'script', () => ({ script: 'write-down', argument: /argument (\S+)\./.exec(how('log'))![1] })],
];

/** A real server is there where it is installed. */
const XMPP: (typeof WAYS)[number] = [
  'xmpp',
  'xmpp',
  () => ({
    account: 'lantern@chat.ternferry.test',
    password: 'tide',
    to: 'crew@rooms.chat.ternferry.test',
    host: '127.0.0.1',
    port: portOf('xmpp'),
    plain: true,
  }),
];
const PROSODY = existsSync('/usr/bin/prosody') && process.getuid?.() === 0;
const ALL = PROSODY ? [...WAYS, XMPP] : WAYS;
if (!PROSODY) process.stderr.write('prosody is not installed: the XMPP room of the harbour is left out\n');

async function settingsOf(kindId: string, settings: object) {
  const kind = channelKind(kindId)!;
  return { kind, valid: await kind.schema.validate(settings) };
}

async function send(kindId: string, settings: object) {
  const { kind, valid } = await settingsOf(kindId, settings);
  return kind.send(valid, outgoing(), SIGNAL, house);
}

describe.each(ALL)('the room %s', (id, kindId, settings) => {
  beforeAll(async () => {
    const room = roomOf(id);
    if (room instanceof XmppRoom) expect(await room.ready).toBeNull();
  });

  it('shows what was said, and tells where it is', async () => {
    expect(await send(kindId, settings())).toMatchObject({ ok: true });
    await until(
      () => roomOf(id).messages.some(({ text }) => text.includes('Booking site is down')),
      'it came',
    );
    const screen = await (await fetch(`http://127.0.0.1:${harbour.port}/rooms/${id}`)).text();
    expect(screen).toContain('Booking site is down');
    expect(screen.replaceAll(/&#(\d+);/g, (_, code) => String.fromCharCode(Number(code)))).toContain(how(id));
  });

  // A file takes whatever is written.
  if (id !== 'log')
    it('takes nothing while it is broken, says so, and takes it again afterwards', async () => {
      const before = roomOf(id).messages.length;
      await fetch(`http://127.0.0.1:${harbour.port}/rooms/${id}/mode?mode=refusing`, { method: 'POST' });
      const answer = await send(kindId, settings());
      expect(answer).toMatchObject({ ok: false });
      expect(answer.said.length).toBeGreaterThan(10);
      expect(roomOf(id).messages).toHaveLength(before);
      await fetch(`http://127.0.0.1:${harbour.port}/rooms/${id}/mode?mode=fine`, { method: 'POST' });
      expect(await send(kindId, settings())).toMatchObject({ ok: true });
    });

  if (id === 'irc' || id === 'xmpp')
    it('is heard when somebody writes into it', async () => {
      const { kind, valid } = await settingsOf(kindId, settings());
      const heard: Heard[] = [];
      const around: AroundLine = { ...UNHEARD, onHeard: (one) => heard.push(one) };
      const line = kind.connect!(valid, around);
      try {
        await line.send(outgoing(), SIGNAL);
        roomOf(id).write('Ines', 'mine\nQUIT');
        await until(() => heard.length > 0, 'heard');
        expect(heard[0]!.text).toMatch(/^mine\sQUIT$/);
      } finally {
        await line.close();
      }
    });
});

it('a room offers to be made only what it can be', async () => {
  const ask = (id: string, mode: string) =>
    fetch(`http://127.0.0.1:${harbour.port}/rooms/${id}/mode?mode=${mode}`, { method: 'POST' });
  expect((await ask('log', 'busy')).status).toBe(400);
  expect((await ask('irc', 'sunny')).status).toBe(400);
  if (PROSODY) expect((await ask('xmpp', 'busy')).status).toBe(400);
});

describe('a room that is busy or asked too fast', () => {
  it.each(['busy', 'too fast'] as const)('says so: %s', async (mode) => {
    for (const [id, kindId, settings] of WAYS.filter(([room]) => room !== 'log')) {
      await roomOf(id).setMode(mode);
      expect(await send(kindId, settings())).toMatchObject({ ok: false, retry: true });
      await roomOf(id).setMode('fine');
    }
  });
});
