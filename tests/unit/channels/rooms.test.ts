import { AdaptiveCard, SerializationContext } from 'adaptivecards';
import { describe, expect, it } from 'vitest';
import { adaptiveCard, adaptiveCardOf } from '@/channels/kinds/adaptive-card';
import { chatBot } from '@/channels/kinds/chat-bot';
import { contentCard } from '@/channels/kinds/content-card';
import type { ChannelKind } from '@/channels/frame/kind';
import { mailOf, type MailSettings } from '@/channels/kinds/mail';
import { matrix } from '@/channels/kinds/matrix';
import type { SaidEvent } from '@/core/messages/said';
import { answeringRoom } from './answering';
import { outgoing } from './outgoing';

const SIGNAL = new AbortController().signal;
const RECOVERED: SaidEvent = { kind: 'recovered', began: 0, ended: 60_000 };
const SEVERAL: SaidEvent = { kind: 'several', because: 'together', items: [] };
const TAKEN: SaidEvent = { kind: 'taken', by: 'Ines', until: null };

/** What is typed, as the schema takes it. */
function taken<S extends object>(kind: ChannelKind<S>, settings: object): S {
  return kind.schema.validateSync(settings) as S;
}

describe('a chat webhook with a card', () => {
  const room = answeringRoom();
  const send = (settings: object = {}, message = outgoing()) =>
    contentCard.send(
      taken(contentCard, { address: `${room.base}/hooks/a-long-secret`, ...settings }),
      message,
      SIGNAL,
    );

  it('gets a card with colour, title, text and time, and calls nobody', async () => {
    room.answer = () => ({ body: { id: '99' } });
    expect(await send()).toEqual({ ok: true, retry: false, said: 'taken', ref: '99' });
    expect(room.asked[0]).toMatchObject({ method: 'POST', url: '/hooks/a-long-secret?wait=true' });
    expect(room.json()).toEqual({
      embeds: [
        {
          title: 'Booking site is down',
          url: 'https://watch.ternferry.test/watches/3',
          description: 'Nothing listens on port 443.\nSince Thu 26 Nov, 08:00 \\(UTC\\).',
          color: 0xb03428,
          timestamp: '2026-11-26T08:00:00.000Z',
          fields: [{ name: 'Watch', value: 'Booking site', inline: true }],
        },
      ],
      allowed_mentions: { parse: [] },
    });
    await send({}, outgoing({ event: RECOVERED, watch: null }));
    expect(room.json()).toMatchObject({ embeds: [{ color: 0x28696d }] });
    expect((room.json().embeds as object[])[0]).not.toHaveProperty('fields');
  });

  it.each([
    ['@here', { parse: ['everyone'] }],
    ['@everyone', { parse: ['everyone'] }],
    ['<@17>', { parse: [], users: ['17'] }],
    ['<@&18>', { parse: [], roles: ['18'] }],
  ])('calls %s when something is down, and for nothing else', async (mention, allowed) => {
    await send({ mention });
    expect(room.json()).toMatchObject({ content: mention, allowed_mentions: allowed });
    await send({ mention }, outgoing({ event: RECOVERED }));
    expect(room.json()).not.toHaveProperty('content');
  });

  it('shows a name as it is: no call, no link and no markup comes of it', async () => {
    await send({}, outgoing({ title: '@everyone [**free** boats](https://bad.example) `x` is down' }));
    const [{ title }] = room.json().embeds as [{ title: string }];
    expect(title).toBe(
      '@\u2060everyone \\[\\*\\*free\\*\\* boats\\]\\(https://bad.example\\) \\`x\\` is down',
    );
  });

  it('cuts what is too long for a card', async () => {
    await send({}, outgoing({ title: 'a'.repeat(900), lines: ['b'.repeat(9000)] }));
    const [card] = room.json().embeds as [{ title: string; description: string }];
    expect(card.title).toHaveLength(250);
    expect(card.description).toHaveLength(4000);
    expect(card.title.endsWith('…')).toBe(true);
  });

  it('adds to its first message where that is wanted, and says it anew where that is gone', async () => {
    const standing = (content: string) => {
      room.asked.length = 0;
      room.answer = ({ method }) => ({ body: { id: method === 'POST' ? '8' : '7', content } });
    };
    standing('');
    const follow = outgoing({
      first: '7',
      event: TAKEN,
      title: 'Ines has Booking site',
      lines: ['Steps rest.'],
    });
    expect(await send({ edits: true }, follow)).toMatchObject({ ok: true, ref: '7' });
    expect(room.asked.map(({ method, url }) => `${method} ${url}`)).toEqual([
      'GET /hooks/a-long-secret/messages/7',
      'PATCH /hooks/a-long-secret/messages/7',
    ]);
    const piece = '**Ines has Booking site**\nSteps rest.';
    const calling = { allowed_mentions: { parse: [] } };
    expect(room.json()).toEqual({ content: piece, ...calling });
    // What stands there already goes on standing there, and nothing twice.
    standing('**Tide feed is down too**');
    await send({ edits: true }, follow);
    expect(room.json()).toEqual({ content: `**Tide feed is down too**\n\n${piece}`, ...calling });
    standing(`earlier\n\n${piece}`);
    await send({ edits: true }, follow);
    expect(room.json()).toEqual({ content: `earlier\n\n${piece}`, ...calling });
    standing('x'.repeat(1900 - piece.length - 2));
    await send({ edits: true }, follow);
    expect(String(room.json().content)).toHaveLength(1900);
    standing('x'.repeat(1900 - piece.length - 1));
    await send({ edits: true }, follow);
    expect(room.json()).toEqual({ content: piece, ...calling });
    // What likely has the same cause is about several, and belongs to what was told first.
    standing('');
    const more = outgoing({ first: '7', follows: 'w1.5', event: SEVERAL, take: 'https://x.test/take/1' });
    expect(await send({ edits: true }, more)).toMatchObject({ ok: true, ref: '7' });
    expect(room.asked).toHaveLength(2);
    expect(room.json().content).toMatch(
      /^\*\*Booking site is down\*\*\n[^]*\n\[I have it\]\(https:\/\/x\.test\/take\/1\)$/,
    );
    await send({ edits: true }, { ...more, lines: ['y'.repeat(3000)] });
    expect(String(room.json().content)).toHaveLength(1900);
    expect(room.json().content).toMatch(/…\n\[I have it\]\(\S+\)$/);
    standing('');
    // What it is over is always news, and so is everything where nobody asked for less.
    await send({ edits: true }, outgoing({ first: '7', event: RECOVERED }));
    await send({}, follow);
    await send({ edits: true }, outgoing({ first: '7', event: SEVERAL }));
    expect(room.asked.map(({ method }) => method)).toEqual(['POST', 'POST', 'POST']);
    room.answer = ({ method }) => (method === 'GET' ? { status: 404 } : { body: { id: '8' } });
    expect(await send({ edits: true }, follow)).toMatchObject({ ok: true, ref: '8' });
    room.answer = ({ method }) => (method === 'PATCH' ? { status: 404 } : { body: { id: '8' } });
    expect(await send({ edits: true }, follow)).toMatchObject({ ok: true, ref: '8' });
    // A room that does not show what stands there may still let it be changed.
    room.answer = ({ method }) => (method === 'GET' ? { status: 405 } : { body: { id: '7' } });
    expect(await send({ edits: true }, follow)).toMatchObject({ ok: true, ref: '7' });
    expect(room.json()).toEqual({ content: piece, ...calling });
    room.answer = () => ({ status: 500, body: 'out of order' });
    expect(await send({ edits: true }, follow)).toEqual({ ok: false, retry: true, said: '500 out of order' });
    expect(room.asked.slice(-1)[0]!.method).toBe('GET');
    room.answer = ({ method }) => (method === 'GET' ? { body: {} } : { status: 500, body: 'out of order' });
    expect(await send({ edits: true }, follow)).toEqual({ ok: false, retry: true, said: '500 out of order' });
  });

  it('waits as long as the room asks in its answer, and never shows the address', async () => {
    room.answer = () => ({ status: 429, body: { message: 'slow down', retry_after: 1.5 } });
    expect(await send()).toMatchObject({ ok: false, retry: true, retryAfterMs: 1500 });
    room.answer = ({ url }) => ({ status: 401, body: `no ${url} here ${room.base}/hooks/a-long-secret` });
    const answer = await send();
    expect(answer).toMatchObject({ ok: false, retry: false });
    expect(contentCard.shown(taken(contentCard, { address: 'https://chat.ternferry.test/hooks/x' }))).toBe(
      'https://chat.ternferry.test/…',
    );
    expect(answer.said).not.toContain(`${room.base}/hooks/a-long-secret`);
  });

  it.each(['everyone', '@all', '<@x>', '<@1> <@2>', '@here\n@here'])(
    'does not take %j for somebody to call',
    (mention) => {
      expect(() => taken(contentCard, { address: 'https://chat.ternferry.test/x', mention })).toThrow(
        'Expected nothing',
      );
    },
  );
});

describe('a chat webhook with an adaptive card', () => {
  const room = answeringRoom();
  const send = (message = outgoing()) =>
    adaptiveCard.send({ address: `${room.base}/flows/secret` }, message, SIGNAL);

  it('gets a card that says what is wrong, with a button', async () => {
    room.answer = () => ({ status: 202 });
    expect(await send()).toEqual({ ok: true, retry: false, said: '202' });
    const { type, attachments } = room.json() as {
      type: string;
      attachments: { contentType: string; content: never }[];
    };
    expect(type).toBe('message');
    expect(attachments).toHaveLength(1);
    expect(attachments[0]!.contentType).toBe('application/vnd.microsoft.card.adaptive');
    expect(attachments[0]!.content).toMatchObject({
      type: 'AdaptiveCard',
      version: '1.4',
      fallbackText: 'Booking site is down',
      body: [
        { type: 'TextBlock', text: 'Booking site is down', color: 'attention', wrap: true },
        { type: 'TextBlock', text: 'Nothing listens on port 443.' },
        { type: 'TextBlock', text: 'Since Thu 26 Nov, 08:00 \\(UTC\\).' },
      ],
      actions: [{ type: 'Action.OpenUrl', url: 'https://watch.ternferry.test/watches/3' }],
    });
  });

  it('is a card by the standard’s own reader, without a complaint, also with a link to take it', () => {
    const context = new SerializationContext();
    const card = new AdaptiveCard();
    card.parse(adaptiveCardOf(outgoing({ take: 'https://watch.ternferry.test/take/x' })), context);
    expect(context.eventCount).toBe(0);
    expect(card.getItemCount()).toBe(3);
    expect(card.getAllActions().map(({ title }) => title)).toEqual(['I have it', 'Open it']);
  });

  it('shows text as it is', async () => {
    await send(outgoing({ title: '# [x](https://bad.example) - *y*', lines: ['@channel'] }));
    const { attachments } = room.json() as { attachments: { content: { body: { text: string }[] } }[] };
    const [title, line] = attachments[0]!.content.body;
    expect(title!.text).toBe('\\# \\[x\\]\\(https://bad.example\\) \\- \\*y\\*');
    expect(line!.text).toBe('@\u2060channel');
  });

  it.each([
    [200, '1', true, false],
    [200, 'Webhook message delivery failed with error: returned HTTP error 429', false, true],
    [200, 'Webhook message delivery failed with error: returned HTTP error 413', false, false],
    [200, 'Sorry, an error occurred', false, false],
    [500, 'error', false, true],
    [410, 'gone', false, false],
  ])('takes %i with %j for what it is', async (status, body, ok, retry) => {
    room.answer = () => ({ status, body });
    expect(await send()).toMatchObject({ ok, retry });
  });
});

describe('a chat bot', () => {
  const room = answeringRoom();
  const TOKEN = '17956:AAsecretAAsecret';
  const settings = (rest: object = {}) =>
    taken(chatBot, { address: room.base, token: TOKEN, chat: '-100179', ...rest });
  const send = (message = outgoing()) => chatBot.send(settings(), message, SIGNAL);

  it('writes with bold and a link, and answers its own first message', async () => {
    room.answer = () => ({ body: { ok: true, result: { message_id: 41 } } });
    expect(await send()).toEqual({ ok: true, retry: false, said: 'taken', ref: '41' });
    expect(room.asked[0]!.url).toBe(`/bot${TOKEN}/sendMessage`);
    expect(room.json()).toEqual({
      chat_id: '-100179',
      text:
        '▲ <b>Booking site is down</b>\nNothing listens on port 443.\nSince Thu 26 Nov, 08:00 (UTC).\n' +
        '<a href="https://watch.ternferry.test/watches/3">Open it</a>',
      parse_mode: 'HTML',
      link_preview_options: { is_disabled: true },
    });
    await send(outgoing({ first: '41', event: RECOVERED }));
    expect(room.json()).toMatchObject({
      reply_parameters: { message_id: 41, allow_sending_without_reply: true },
    });
  });

  it('shows what is not ours as it is, and no more than a chat takes', async () => {
    room.answer = () => ({ body: { ok: true, result: {} } });
    await send(outgoing({ title: '<b>Kiosk</b> & "co"', lines: ['x'.repeat(9000)] }));
    const text = room.json().text as string;
    expect(text.startsWith('▲ <b>&lt;b&gt;Kiosk&lt;/b&gt; &amp; &quot;co&quot;</b>\n')).toBe(true);
    expect(text.replaceAll(/<[^>]+>/g, '').length).toBeLessThan(4096);
  });

  it.each([
    [
      { status: 401, body: { ok: false, error_code: 401, description: 'Unauthorized' } },
      false,
      /token is not known/,
    ],
    [
      { status: 403, body: { ok: false, error_code: 403, description: 'bot was blocked' } },
      false,
      /may not write/,
    ],
    [
      { status: 400, body: { ok: false, error_code: 400, description: 'chat not found' } },
      false,
      /no chat of that number/,
    ],
    [
      { status: 200, body: { ok: false, error_code: 400, description: 'message is empty' } },
      false,
      /message is empty/,
    ],
    [{ status: 200, body: 'hello' }, true, /hello/],
    [{ status: 502, body: 'bad gateway' }, true, /bad gateway/],
    [
      {
        status: 400,
        body: { ok: false, error_code: 400, description: 'moved', parameters: { migrate_to_chat_id: -5 } },
      },
      false,
      /Its number is -5 now/,
    ],
  ])('says what a refusal means: %j', async (answer, retry, said) => {
    room.answer = () => answer;
    const got = await send();
    expect(got).toMatchObject({ ok: false, retry });
    expect(got.said).toMatch(said);
    expect(got).not.toHaveProperty('ref');
  });

  it('waits as long as it is asked to, in the answer or inside it', async () => {
    room.answer = () => ({
      status: 429,
      body: { ok: false, error_code: 429, parameters: { retry_after: 9 } },
    });
    expect(await send()).toMatchObject({ ok: false, retry: true, retryAfterMs: 9000 });
    room.answer = () => ({
      status: 200,
      body: { ok: false, error_code: 429, parameters: { retry_after: 99_999 } },
    });
    expect(await send()).toMatchObject({ ok: false, retry: true, retryAfterMs: 3_600_000 });
  });

  it('finds the chats that wrote to it, and says what to do where none did', async () => {
    room.answer = () => ({
      body: {
        ok: true,
        result: [
          { update_id: 1, message: { chat: { id: 17, first_name: 'Ines', last_name: 'Prior' } } },
          { update_id: 2, my_chat_member: { chat: { id: -5, title: 'Crew room' } } },
          { update_id: 3, message: { chat: { id: 17, first_name: 'Ines', last_name: 'Prior' } } },
          { update_id: 4, poll: {} },
        ],
      },
    });
    const find = chatBot.find!.chat!;
    expect(await find(settings(), SIGNAL)).toEqual([
      { value: '17', text: 'Ines Prior (17)' },
      { value: '-5', text: 'Crew room (-5)' },
    ]);
    expect(room.asked[0]!.url).toBe(`/bot${TOKEN}/getUpdates`);
    room.answer = () => ({ body: { ok: true, result: [] } });
    await expect(find(settings(), SIGNAL)).rejects.toThrow('Write one word to it');
    room.answer = () => ({ status: 401, body: { ok: false, description: 'Unauthorized' } });
    await expect(find(settings(), SIGNAL)).rejects.toThrow('token is not known');
  });

  it('never shows its token', async () => {
    room.answer = ({ url }) => ({ status: 500, body: `cannot ${url}` });
    expect((await send()).said).toBe('500 cannot /bot•••/sendMessage');
  });
});

describe('the link to take a trouble', () => {
  const room = answeringRoom();
  const take = 'https://watch.ternferry.test/take/3.a.b.c';
  const link = `<a href="${take}">I have it</a>`;

  it('stands in what each room knows as a link or a button', async () => {
    room.answer = () => ({ body: { ok: true, result: { message_id: 1 }, event_id: '$1', id: '1' } });
    const message = outgoing({ take });
    await chatBot.send(
      taken(chatBot, { address: room.base, token: '17956:token', chat: '1' }),
      message,
      SIGNAL,
    );
    expect(room.json().text).toContain(`\n${link}\n`);
    await matrix.send(taken(matrix, { address: room.base, token: 't', room: '!r:t.test' }), message, SIGNAL);
    expect(room.json()).toMatchObject({
      body: expect.stringContaining(`\nI have it: ${take}\n`) as string,
      formatted_body: expect.stringContaining(link) as string,
    });
    await contentCard.send(taken(contentCard, { address: `${room.base}/x` }), message, SIGNAL);
    const [card] = room.json().embeds as [{ fields: { name: string; value: string }[] }];
    expect(card.fields.map(({ value }) => value)).toEqual(['Booking site', `[I have it](${take})`]);
    const mailed = mailOf(
      { from: 'lantern@ternferry.test', to: 'office@ternferry.test' } as MailSettings,
      message,
    );
    expect(mailed.text).toContain(`I have it: ${take}`);
    expect(mailed.html).toContain(link);
  });
});

describe('a Matrix room', () => {
  const room = answeringRoom();
  const settings = (rest: object = {}) =>
    taken(matrix, {
      address: `${room.base}/`,
      token: 'syt_secret_token',
      room: '!crew:ternferry.test',
      ...rest,
    });
  const send = (message = outgoing(), rest: object = {}) => matrix.send(settings(rest), message, SIGNAL);

  it('gets an event with text and HTML, under an id that is the same at every try', async () => {
    room.answer = () => ({ body: { event_id: '$first' } });
    expect(await send()).toEqual({ ok: true, retry: false, said: 'taken', ref: '$first' });
    await send();
    const [one, again] = room.asked;
    expect(one!.url).toBe(
      '/_matrix/client/v3/rooms/!crew%3Aternferry.test/send/m.room.message/lantern.1795680000000.7',
    );
    expect(again!.url).toBe(one!.url);
    expect(one).toMatchObject({ method: 'PUT', headers: { authorization: 'Bearer syt_secret_token' } });
    expect(room.json()).toEqual({
      msgtype: 'm.text',
      body:
        '▲ Booking site is down\nNothing listens on port 443.\nSince Thu 26 Nov, 08:00 (UTC).\n' +
        'https://watch.ternferry.test/watches/3',
      format: 'org.matrix.custom.html',
      formatted_body:
        '<font color="#b03428">▲</font> <strong>Booking site is down</strong><br>Nothing listens on port 443.<br>' +
        'Since Thu 26 Nov, 08:00 (UTC).<br>' +
        '<a href="https://watch.ternferry.test/watches/3">https://watch.ternferry.test/watches/3</a>',
      'm.mentions': {},
    });
  });

  it('answers its own first message with what follows, and calls nobody by a name', async () => {
    room.answer = () => ({ body: { event_id: '$2' } });
    await send(outgoing({ first: '$first', event: RECOVERED, title: '<b>@room</b>' }));
    const event = room.json();
    expect(event['m.relates_to']).toEqual({ 'm.in_reply_to': { event_id: '$first' } });
    expect(event['m.mentions']).toEqual({});
    expect(event.formatted_body).toContain('&lt;b&gt;@room&lt;/b&gt;');
  });

  it('asks which room an alias is', async () => {
    room.answer = ({ method }) => ({
      body: method === 'GET' ? { room_id: '!r:ternferry.test' } : { event_id: '$1' },
    });
    expect(await send(outgoing(), { room: '#crew:ternferry.test' })).toMatchObject({ ok: true });
    expect(room.asked.map(({ url }) => url)).toEqual([
      '/_matrix/client/v3/directory/room/%23crew%3Aternferry.test',
      '/_matrix/client/v3/rooms/!r%3Aternferry.test/send/m.room.message/lantern.1795680000000.7',
    ]);
    room.answer = () => ({ status: 404, body: { errcode: 'M_NOT_FOUND', error: 'no alias' } });
    expect(await send(outgoing(), { room: '#crew:ternferry.test' })).toEqual({
      ok: false,
      retry: false,
      said: 'There is no such room: no alias',
    });
    room.answer = () => ({ body: {} });
    expect(await send(outgoing(), { room: '#crew:ternferry.test' })).toMatchObject({
      ok: false,
      retry: false,
    });
  });

  it.each([
    [
      { status: 403, body: { errcode: 'M_FORBIDDEN', error: 'not in room' } },
      false,
      /may not write into that room/,
    ],
    [
      { status: 401, body: { errcode: 'M_UNKNOWN_TOKEN', error: 'gone' } },
      false,
      /access token is not known/,
    ],
    [{ status: 413, body: { errcode: 'M_TOO_LARGE', error: 'too large' } }, false, /too large/],
    [{ status: 502, body: '<html>' }, true, /^502 <html>/],
    [{ status: 200, body: '{}' }, false, /No message was made of it/],
  ])('says what a refusal means: %j', async (answer, retry, said) => {
    room.answer = () => answer;
    const got = await send();
    expect(got).toMatchObject({ ok: false, retry });
    expect(got.said).toMatch(said);
  });

  it('waits as long as the server asks', async () => {
    room.answer = () => ({ status: 429, body: { errcode: 'M_LIMIT_EXCEEDED', retry_after_ms: 2500 } });
    expect(await send()).toMatchObject({ ok: false, retry: true, retryAfterMs: 2500 });
  });

  it('finds the rooms the account is in, by their names', async () => {
    room.answer = ({ url }) => {
      if (url.endsWith('/joined_rooms')) return { body: { joined_rooms: ['!a:t.test', '!b:t.test'] } };
      return url.includes('!a')
        ? { body: { name: 'Crew room' } }
        : { status: 404, body: { errcode: 'M_NOT_FOUND' } };
    };
    expect(await matrix.find!.room!(settings(), SIGNAL)).toEqual([
      { value: '!a:t.test', text: 'Crew room (!a:t.test)' },
      { value: '!b:t.test', text: '!b:t.test' },
    ]);
    room.answer = () => ({ body: { joined_rooms: [] } });
    await expect(matrix.find!.room!(settings(), SIGNAL)).rejects.toThrow('in no room yet');
  });

  it.each(['crew', '@ines:ternferry.test', '#crew', '! :x'])('does not take %j for a room', (wrong) => {
    expect(() => settings({ room: wrong })).toThrow('Expected a room such as');
  });
});
