import { createServer, type Server, type Socket } from 'node:net';
import type { AddressInfo } from 'node:net';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { irc, type IrcSettings } from '@/channels/kinds/irc';
import { parseIrc } from '@/channels/transport/irc-connection';
import type { Line } from '@/channels/frame/kind';
import { outgoing } from './outgoing';

const SIGNAL = () => new AbortController().signal;

describe('a line of IRC', () => {
  it.each([
    ['PING :a b', { from: '', command: 'PING', params: ['a b'] }],
    [
      ':n!u@h PRIVMSG #crew :hello: there',
      { from: 'n!u@h', command: 'PRIVMSG', params: ['#crew', 'hello: there'] },
    ],
    ['@time=x :irc.test 001 lantern :', { from: 'irc.test', command: '001', params: ['lantern', ''] }],
    ['join #crew', { from: '', command: 'JOIN', params: ['#crew'] }],
    [
      ':irc.test  404   lantern  #crew  :No',
      { from: 'irc.test', command: '404', params: ['lantern', '#crew', 'No'] },
    ],
  ])('%j is taken apart', (line, parts) => {
    expect(parseIrc(line)).toEqual(parts);
  });
  it.each(['', ':only', '12 x', '!'])('%j is none', (line) => {
    expect(parseIrc(line)).toBeNull();
  });
});

describe('an IRC room', () => {
  let server: Server;
  let port: number;
  let said: string[];
  let sockets: Socket[];
  let line: Line | null;
  /** What the server answers to a line besides what every server does; null for just that, '' for nothing. */
  let answer: (line: string) => string | null;

  const usual = (text: string): string => {
    const [command = '', ...rest] = text.split(' ');
    if (command === 'USER') return ':irc.test 001 lantern :Welcome';
    if (command === 'JOIN') return `:lantern!l@h JOIN ${rest[0]!}`;
    if (command === 'PING') return `:irc.test PONG irc.test ${rest.join(' ')}`;
    return '';
  };

  beforeEach(async () => {
    [said, sockets, line] = [[], [], null];
    answer = () => null;
    server = createServer((socket) => {
      sockets.push(socket);
      socket.on('error', () => undefined);
      let rest = '';
      socket.on('data', (chunk) => {
        const lines = (rest + String(chunk)).split('\r\n');
        rest = lines.pop()!;
        for (const text of lines) {
          said.push(text);
          const reply = answer(text) ?? usual(text);
          if (reply !== '') socket.write(`${reply}\r\n`);
        }
      });
    });
    await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
    port = (server.address() as AddressInfo).port;
  });
  afterEach(async () => {
    vi.useRealTimers();
    await line?.close();
    for (const socket of sockets) socket.destroy();
    await new Promise((resolve) => server.close(resolve));
  });

  const settings = (rest: object = {}) =>
    irc.schema.validateSync({ host: '127.0.0.1', port, tls: false, room: '#crew', ...rest }) as IrcSettings;
  const open = (rest: object = {}) => (line = irc.connect!(settings(rest)));
  const spoken = () => said.filter((one) => one.startsWith('PRIVMSG'));

  it('is joined once, and hears each message line by line', async () => {
    const room = open({ key: 'tide' });
    expect(await room.send(outgoing(), SIGNAL())).toEqual({
      ok: true,
      retry: false,
      said: 'said in the room',
    });
    await room.send(outgoing({ title: 'Booking site is up again', lines: [] }), SIGNAL());
    expect(said.filter((one) => !/^(PRIVMSG|PING)/.test(one))).toEqual([
      'NICK lantern',
      'USER lantern 0 * :Calm Lantern',
      'JOIN #crew tide',
    ]);
    expect(spoken().slice(0, 4)).toEqual([
      'PRIVMSG #crew :▲ Booking site is down',
      'PRIVMSG #crew :Nothing listens on port 443.',
      'PRIVMSG #crew :Since Thu 26 Nov, 08:00 (UTC).',
      'PRIVMSG #crew :https://watch.ternferry.test/watches/3',
    ]);
  });

  it('gets no more lines at once than a server bears, and none with something of its own in it', async () => {
    const room = open();
    const began = performance.now();
    const long = outgoing({ title: 'a\r\nQUIT :x', lines: Array.from({ length: 4 }, (_, n) => `line ${n}`) });
    await room.send(long, SIGNAL());
    // Seven lines are sent, five at once: two more wait two seconds each.
    expect(performance.now() - began).toBeGreaterThan(3000);
    expect(said).not.toContain('QUIT :x');
    expect(spoken()[0]).toBe('PRIVMSG #crew :▲ a QUIT :x');
  });

  it('gets what is long in pieces that fit, and no more than twelve lines', async () => {
    const room = open();
    const controller = new AbortController();
    const sending = room.send(
      outgoing({ title: 'ä'.repeat(300), lines: Array(40).fill('x') as string[] }),
      controller.signal,
    );
    await vi.waitFor(() => expect(spoken().length).toBeGreaterThanOrEqual(3));
    controller.abort();
    expect(await sending).toMatchObject({ ok: false, retry: true });
    for (const one of spoken()) expect(Buffer.byteLength(one)).toBeLessThan(420);
  });

  it('is come back to after it was lost, and after being thrown out', async () => {
    const room = open();
    await room.send(outgoing({ lines: [] }), SIGNAL());
    sockets[0]!.write(':boss!b@h KICK #crew lantern :out\r\n');
    await new Promise((resolve) => setTimeout(resolve, 50));
    await room.send(outgoing({ lines: [] }), SIGNAL());
    expect(said.filter((one) => one === 'JOIN #crew')).toHaveLength(2);
    sockets[0]!.destroy();
    await new Promise((resolve) => setTimeout(resolve, 50));
    expect(await room.send(outgoing({ lines: [] }), SIGNAL())).toMatchObject({ ok: true });
    expect(sockets).toHaveLength(2);
  }, 20_000);

  it('is signed in to with an account, in pieces', async () => {
    answer = (text) => {
      if (text === 'CAP LS 302') return ':irc.test CAP * LS :multi-prefix sasl=PLAIN,EXTERNAL';
      if (text.startsWith('CAP REQ')) return ':irc.test CAP * ACK :sasl';
      if (text === 'AUTHENTICATE PLAIN') return 'AUTHENTICATE +';
      if (text.startsWith('AUTHENTICATE')) return text.length < 412 ? ':irc.test 903 lantern :welcome' : '';
      if (text.startsWith('USER')) return '';
      if (text === 'CAP END') return ':irc.test 001 lantern :Welcome';
      return null;
    };
    const room = irc.connect!({
      ...settings(),
      account: 'lantern',
      accountPassword: 'x'.repeat(330),
      password: 'pier',
    });
    line = room;
    expect(await room.send(outgoing({ lines: [] }), SIGNAL())).toMatchObject({ ok: true });
    const pieces = said.filter((one) => /^AUTHENTICATE (?!PLAIN)/.test(one)).map((one) => one.slice(13));
    expect(pieces.map(({ length }) => length)).toEqual([400, expect.any(Number)]);
    expect(Buffer.from(pieces.join(''), 'base64').toString()).toBe(`lantern\0lantern\0${'x'.repeat(330)}`);
    expect(said).toContain('PASS :pier');
  });

  it('is called by another name where ours is taken', async () => {
    answer = (text) => {
      if (text === 'NICK lantern') return ':irc.test 433 * lantern :taken';
      if (text.startsWith('USER')) return '';
      const nick = /^NICK (lante\d{4})$/.exec(text)?.[1];
      if (nick) return `:irc.test 001 ${nick} :Welcome`;
      return text.startsWith('JOIN')
        ? `:${said.find((one) => /^NICK lante\d/.test(one))!.slice(5)}!l@h JOIN #crew`
        : null;
    };
    expect(await open().send(outgoing({ lines: [] }), SIGNAL())).toMatchObject({ ok: true });
  });

  it.each([
    ['JOIN', ':irc.test 475 lantern #crew :bad key', false, 'The key of the room is wrong: bad key'],
    ['JOIN', ':irc.test 471 lantern #crew :full', true, 'The room is full: full'],
    ['USER', ':irc.test 464 lantern :wrong', true, 'The server refused its password: wrong'],
    ['USER', 'ERROR :Closing link', true, 'The server ended the connection: Closing link'],
    [
      'PRIVMSG',
      ':irc.test 404 lantern #crew :cannot send',
      false,
      'We may not write into that room: cannot send',
    ],
  ])('says why at %s: %s', async (at, reply, retry, why) => {
    answer = (text) => (text.startsWith(at) ? reply : null);
    expect(await open().send(outgoing({ lines: [] }), SIGNAL())).toEqual({ ok: false, retry, said: why });
  });

  it('that offers no signing in says so', async () => {
    answer = (text) =>
      text.startsWith('CAP LS') ? ':irc.test CAP * LS :multi-prefix' : text.startsWith('USER') ? '' : null;
    line = irc.connect!({ ...settings(), account: 'lantern', accountPassword: 'tide' });
    expect((await line.send(outgoing(), SIGNAL())).said).toBe(
      'The server does not take an account and a password (SASL PLAIN)',
    );
  });

  it('that sends a line without end is let go of', async () => {
    answer = (text) => (text.startsWith('USER') ? 'x'.repeat(20_000) : null);
    sockets = [];
    const sent = open().send(outgoing(), SIGNAL());
    await vi.waitFor(() => expect(said.some((one) => one.startsWith('USER'))).toBe(true));
    sockets[0]!.write('y'.repeat(20_000));
    expect((await sent).said).toContain('too long for IRC');
  });

  it('that is away says so, and for a test ends what it began', async () => {
    expect(await irc.send(settings({ room: 'ines' }), outgoing({ lines: [] }), SIGNAL())).toMatchObject({
      ok: true,
      said: 'said',
    });
    await vi.waitFor(() => expect(said).toContain('QUIT :Calm Lantern'));
    expect(said.some((one) => one.startsWith('JOIN'))).toBe(false);
    const gone = await irc.send(settings({ port: 1 }), outgoing(), SIGNAL());
    expect(gone).toMatchObject({ ok: false, retry: true });
    expect(gone.said).toContain('ECONNREFUSED');
  });

  it.each([
    [{ room: 'two rooms' }, 'Expected a room such as #crew'],
    [{ room: '#a,#b' }, 'Expected a room such as #crew'],
    [{ nick: '1st' }, 'Expected a name'],
    [{ key: 'a b' }, 'Expected a key without spaces'],
    [{ accountPassword: 'tide' }, 'readable on its way'],
    [{ host: 'irc.test:6697' }, 'and nothing else'],
    [{ port: 0 }, 'Expected a port'],
  ])('refuses %j', (rest, why) => {
    expect(() => settings(rest)).toThrow(why);
  });
});
