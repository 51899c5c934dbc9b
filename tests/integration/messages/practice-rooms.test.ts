import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { NO_HOUSE, type House } from '@/channels/frame/house';
import type { Outgoing } from '@/channels/frame/kind';
import { channelKind, channelKinds } from '@/channels/kinds/registry';
import { makeAuthority } from '@/standins/certificates';
import { Harbour } from '@/standins/harbour';
import { PRACTICE_BOT } from '@/standins/rooms/bot-room';
import { PRACTICE_SECRET } from '@/standins/rooms/event-room';
import { PRACTICE_MATRIX } from '@/standins/rooms/matrix-room';
import type { PracticeRoom, RoomMode } from '@/standins/rooms/practice-room';
import webPush from 'web-push';
import { outgoing } from '../../unit/channels/outgoing';

const SIGNAL = new AbortController().signal;
const keys = webPush.generateVAPIDKeys();
const house: House = { ...NO_HOUSE, pushKeys: async () => keys };

let harbour: Harbour;
let base: string;

beforeAll(async () => {
  harbour = await Harbour.start({ basePort: 0, authority: await makeAuthority(), jobs: [] });
  base = `http://127.0.0.1:${harbour.port}/rooms`;
});
afterAll(() => harbour.stop());
beforeEach(() => {
  for (const room of harbour.rooms) {
    room.messages.length = 0;
    room.mode = 'fine';
  }
});

/** Each room of the harbour with the kind of channel that leads there, and what is typed. */
const WAYS: [room: string, kind: string, settings: () => object][] = [
  ['crew', 'webhook', () => ({ address: `${base}/crew/hook` })],
  ['cards', 'card-webhook', () => ({ address: `${base}/cards/hook`, edits: true })],
  ['adaptive', 'adaptive-card', () => ({ address: `${base}/adaptive/hook` })],
  ['bot', 'bot', () => ({ address: `${base}/bot`, ...PRACTICE_BOT })],
  [
    'matrix',
    'matrix',
    () => ({ address: `${base}/matrix`, token: PRACTICE_MATRIX.token, room: PRACTICE_MATRIX.alias }),
  ],
  ['events', 'event', () => ({ address: `${base}/events`, secret: PRACTICE_SECRET })],
  ['phone', 'push', () => harbour.phone.subscription(`${base}/phone`)],
];
const roomOf = (id: string): PracticeRoom => harbour.rooms.find((room) => room.id === id)!;

let count = 0;
/** Each time another message, unless it is the same that is handed over. */
const another = () => outgoing({ id: `n${(count += 1)}` });

async function send(kindId: string, settings: object, message: Outgoing = another()) {
  const kind = channelKind(kindId)!;
  return kind.send(await kind.schema.validate(settings), message, SIGNAL, house);
}

describe.each(WAYS)('the room %s', (id, kind, settings) => {
  it('shows what was said, and no mark of the format', async () => {
    expect(await send(kind, settings())).toMatchObject({ ok: true });
    const [message] = roomOf(id).messages;
    expect(message!.text).toContain('Booking site is down');
    expect(message!.text).not.toMatch(/<b>|\\\(|&amp;/);
    const screen = await (await fetch(`${base}/${id}`)).text();
    expect(screen).toContain('Booking site is down');
  });

  it.each<[RoomMode, boolean]>([
    ['busy', true],
    ['too fast', true],
    ['refusing', false],
  ])('that is %s says so, and what is worth another try', async (mode, retry) => {
    await fetch(`${base}/${id}/mode?mode=${encodeURIComponent(mode)}`, { method: 'POST' });
    const answer = await send(kind, settings());
    expect(answer).toMatchObject({ ok: false, retry });
    expect(answer.said.length).toBeGreaterThan(5);
    if (mode === 'too fast' && id !== 'adaptive') expect(answer.retryAfterMs).toBeGreaterThan(0);
    expect(roomOf(id).messages).toEqual([]);
  });
});

describe('what follows in a conversation', () => {
  const taken = { kind: 'taken', by: 'Ines', until: null } as const;

  it.each([
    ['bot', 'bot'],
    ['matrix', 'matrix'],
  ])('answers the first message in the room %s', async (id, kind) => {
    const [, , settings] = WAYS.find(([room]) => room === id)!;
    const first = await send(kind, settings());
    await send(
      kind,
      settings(),
      outgoing({ id: '2', first: first.ref!, event: taken, title: 'Ines has Booking site' }),
    );
    const [opening, next] = roomOf(id).messages;
    expect(next).toMatchObject({ answers: opening!.id, text: expect.stringContaining('Ines has') as string });
  });

  it('stands above the card it belongs to, and is a message of its own where that is gone', async () => {
    const [, , settings] = WAYS.find(([room]) => room === 'cards')!;
    const first = await send('card-webhook', settings());
    const follow = outgoing({ id: '2', first: first.ref!, event: taken, title: 'Ines has Booking site' });
    await send('card-webhook', settings(), follow);
    expect(roomOf('cards').messages).toHaveLength(1);
    expect(roomOf('cards').messages[0]!.text).toMatch(
      /^\*\*Ines has Booking site\*\*[^]*Booking site is down/,
    );
    roomOf('cards').messages.length = 0;
    expect(await send('card-webhook', settings(), follow)).toMatchObject({ ok: true });
    expect(roomOf('cards').messages).toHaveLength(1);
  });

  it('is said once in a Matrix room, however often it is tried', async () => {
    const [, , settings] = WAYS.find(([room]) => room === 'matrix')!;
    const message = another();
    const [one, again] = [
      await send('matrix', settings(), message),
      await send('matrix', settings(), message),
    ];
    expect(again.ref).toBe(one.ref);
    expect(roomOf('matrix').messages).toHaveLength(1);
  });
});

describe('what a room does not take', () => {
  it('is an event whose signature does not fit', async () => {
    const settings = { address: `${base}/events`, secret: `whsec_${Buffer.alloc(32).toString('base64')}` };
    expect(await send('event', settings)).toMatchObject({ ok: false, retry: false });
  });

  it('is a push sealed for another phone, signed with other keys than it says, or to nobody', async () => {
    const mine = harbour.phone.subscription(`${base}/phone`);
    const other = { ...mine, auth: Buffer.alloc(16).toString('base64url') };
    expect((await send('push', other)).said).toContain('cannot be opened');
    expect(await send('push', { ...mine, endpoint: `${base}/phone/push/nobody` })).toMatchObject({
      ok: false,
      gone: true,
    });
    const wrong = { ...keys, publicKey: webPush.generateVAPIDKeys().publicKey };
    const kind = channelKind('push')!;
    const answer = await kind.send(mine, outgoing(), SIGNAL, { ...NO_HOUSE, pushKeys: async () => wrong });
    expect(answer.said).toContain('switched on by another desk');
    expect(await kind.send(mine, outgoing(), SIGNAL)).toMatchObject({ ok: false, retry: false });
  });

  it('is a push without end: what is long is cut so that it fits', async () => {
    const long = outgoing({ title: 'ä'.repeat(3000), lines: ['€'.repeat(9000)] });
    expect(await send('push', harbour.phone.subscription(`${base}/phone`), long)).toMatchObject({ ok: true });
    expect(Buffer.byteLength(harbour.phone.messages[0]!.text)).toBeLessThan(3500);
  });
});

it('finds chats and rooms in the practice harbour', async () => {
  const bot = channelKind('bot')!;
  const settings = { address: `${base}/bot`, token: PRACTICE_BOT.token };
  expect(await bot.find!.chat!(settings, SIGNAL)).toEqual([{ value: '4711', text: 'Crew chat (4711)' }]);
  const matrix = channelKind('matrix')!;
  expect(
    await matrix.find!.room!({ address: `${base}/matrix`, token: PRACTICE_MATRIX.token }, SIGNAL),
  ).toEqual([{ value: PRACTICE_MATRIX.room, text: `Harbour office (${PRACTICE_MATRIX.room})` }]);
});

it('every kind of channel is tried against a room of the harbour, a real server, or what it uses itself', () => {
  // Mail, IRC, XMPP and MQTT: tests/integration/neighbours; desk and script: tests/unit/channels.
  const elsewhere = ['mail', 'irc', 'xmpp', 'mqtt', 'desk', 'script'];
  const tried = [...WAYS.map(([, kind]) => kind), ...elsewhere];
  expect(
    channelKinds()
      .map(({ id }) => id)
      .sort(),
  ).toEqual(tried.sort());
});
