import http, { type Server } from 'node:http';
import https from 'node:https';
import net, { type Socket } from 'node:net';
import { afterAll, describe, expect, it } from 'vitest';
import { causeAdvice } from '@/core/causes/causes';
import type { Finding } from '@/core/causes/finding';
import { charsetOf } from '@/probes/transport/http-hop';
import { carryOut } from '@/probes/frame/run';
import { issueAuthority, issueCertificate, makeAuthority } from '@/standins/certificates';
import { listen, trackSockets } from '@/standins/listener';
import { lookAt, lookContext } from './looks';

const stops: (() => Promise<void>)[] = [];
afterAll(async () => {
  for (const stop of stops) await stop();
});

async function serve(server: Server | net.Server): Promise<number> {
  stops.push(trackSockets(server as Server));
  return listen(server as Server, 0);
}
const raw = (behave: (socket: Socket) => void) =>
  serve(
    net.createServer((socket) => {
      socket.on('error', () => socket.destroy());
      behave(socket);
    }),
  );
const says = (text: string, then: (socket: Socket) => void = (socket) => socket.end()) =>
  raw((socket) =>
    socket.once('data', () => {
      socket.write(text);
      then(socket);
    }),
  );
const at = (port: number) => `http://127.0.0.1:${port}/`;
const ladder = (finding: Finding) => finding.evidence!.ladder!.map(({ rung, result }) => `${rung} ${result}`);

describe('a reply that goes wrong', () => {
  it('is told by where: before it began, in its pieces, in its packing, or never ended', async () => {
    const closed = await raw((socket) => socket.once('data', () => socket.end()));
    expect((await lookAt('web', { address: at(closed) })).cause).toBe('reply.closed');
    const pieces = await says('HTTP/1.1 200 OK\r\ntransfer-encoding: chunked\r\n\r\n5\r\nhello\r\nzz\r\n');
    expect((await lookAt('web', { address: at(pieces) })).cause).toBe('reply.broken-pieces');
    const packing = await says('HTTP/1.1 200 OK\r\ncontent-encoding: gzip\r\ncontent-length: 5\r\n\r\nhello');
    expect(await lookAt('web', { address: at(packing) })).toMatchObject({
      cause: 'reply.broken-packing',
      detail: { encoding: 'gzip' },
    });
    const drip = await says('HTTP/1.1 200 OK\r\n\r\n', (socket) => {
      const drop = setInterval(() => socket.write('.'), 40);
      socket.on('close', () => clearInterval(drop));
    });
    const dripped = await lookAt('web', { address: at(drip) }, { timeoutMs: 300 });
    expect(dripped.cause).toBe('reply.unfinished');
    expect(ladder(dripped)).toEqual(['name fine', 'port fine', 'reply failed']);
  });

  it('that waits for a cookie is told from a circle', async () => {
    const wall = await serve(
      http.createServer((request, response) => {
        if (request.headers.cookie) return void response.end('Who sails today');
        response.writeHead(302, { location: '/', 'set-cookie': 'seen=1' }).end();
      }),
    );
    expect((await lookAt('web', { address: at(wall) })).cause).toBe('reply.cookie-wall');
    const circle = await serve(
      http.createServer((_, response) => response.writeHead(302, { location: '/' }).end()),
    );
    expect((await lookAt('web', { address: at(circle) })).cause).toBe('reply.redirects');
    // A journey keeps what it is given.
    const steps = [{ address: at(wall), words: 'Who sails today' }];
    expect((await lookAt('journey', { steps })).verdict).toBe('fine');
  });

  it('from a port that speaks TLS is told, and so is TLS where nobody speaks it', async () => {
    const authority = await makeAuthority();
    const { key, cert } = await issueCertificate(authority, { names: ['127.0.0.1'] });
    const secure = await raw((socket) =>
      socket.once('data', () => socket.end(Buffer.from([0x15, 3, 1, 0, 2, 2, 70]))),
    );
    expect((await lookAt('web', { address: at(secure) })).cause).toBe('reply.speaks-tls');
    const plain = await serve(http.createServer((_, response) => response.end('ok')));
    expect(await lookAt('web', { address: `https://127.0.0.1:${plain}/` })).toMatchObject({
      cause: 'tls.failed',
      detail: { reason: 'this port does not speak TLS' },
    });
    expect([key, cert].every((pem) => pem.startsWith('-----BEGIN'))).toBe(true);
  });

  it('of a proxy that is away, or not found, is the proxy’s fault; nothing is claimed of what lies behind it', async () => {
    const nobody = await raw(() => undefined);
    await stops.pop()!();
    const away = await lookAt('web', { address: 'http://rota.ternferry.test/', proxy: at(nobody) });
    expect(away).toMatchObject({ cause: 'reply.proxy' });
    expect(String(away.detail!.reason)).toContain(`nothing listens on port ${nobody}`);
    expect(ladder(away)).toEqual(['name unknown', 'port unknown', 'reply failed']);
    const lost = await lookAt('web', {
      address: 'http://rota.ternferry.test/',
      proxy: 'http://proxy.ternferry.test:3128',
    });
    expect(lost).toMatchObject({ cause: 'reply.proxy' });
    expect(String(lost.detail!.reason)).toContain('the name proxy.ternferry.test');
    const well = await serve(http.createServer((_, response) => response.end('ok')));
    const through = await lookAt('web', { address: 'http://rota.ternferry.test/', proxy: at(well) });
    expect(ladder(through)).toEqual(['name unknown', 'port unknown', 'reply fine']);
  });

  it('is asked for by the wanted family only', async () => {
    const lookup: net.LookupFunction = (name, options, done) => {
      if (options.family === 6) done(Object.assign(new Error(name), { code: 'ENOTFOUND' }), '');
      else done(null, options.all ? ([{ address: '127.0.0.1', family: 4 }] as never) : '127.0.0.1', 4);
    };
    const settings = { address: 'http://site.ternferry.test/', family: '6' };
    expect(await lookAt('web', settings, { lookup })).toMatchObject({
      cause: 'name.no-family',
      detail: { host: 'site.ternferry.test', family: 'IPv6' },
    });
  });

  it.each([
    [401, 'asks for a sign-in'],
    [403, 'lets nobody in'],
    [404, 'not there'],
    [429, 'too often'],
    [502, 'cannot reach it'],
    [503, 'cannot serve now'],
    [500, 'Look in the log'],
  ])('with status %d comes with advice of its own', (status, words) => {
    expect(causeAdvice('reply.status', { status })).toContain(words);
  });
});

describe('the ladder', () => {
  it('calls no rung fine that was not gone over', async () => {
    // A way that does not exist: no port was opened, and no reply came.
    const noRoute = await carryOut(
      lookContext(),
      { host: 'site.ternferry.test', port: 80, timeoutMs: 1000 },
      () => [
        ['name', 'name'],
        ['port', 'port 80'],
        ['reply', 'reply'],
        ['content', 'words'],
      ],
      async (run) => {
        run.lap('name', 'connect');
        throw Object.assign(new Error('no way'), { code: 'EHOSTUNREACH' });
      },
    );
    expect(noRoute.cause).toBe('host.no-route');
    expect(ladder(noRoute)).toEqual([
      'name fine',
      'host failed',
      'port not-reached',
      'reply not-reached',
      'content not-reached',
    ]);
    // STARTTLS: the greeting fails before anybody spoke TLS.
    const rude = await raw((socket) => socket.end('what?\r\n'));
    const mail = await lookAt('mail', {
      service: 'smtp',
      host: '127.0.0.1',
      port: rude,
      security: 'starttls',
    });
    expect(mail.verdict).toBe('failed');
    expect(ladder(mail)).not.toContain('certificate fine');
  });
});

describe('a certificate', () => {
  it('without names, or above it one that ends soon, is told', async () => {
    const authority = await makeAuthority();
    const host = 'site.ternferry.test';
    const secure = async (key: string, cert: string) =>
      `https://${host}:${await serve(https.createServer({ key, cert }, (_, response) => response.end('ok')))}/`;
    const old = await issueCertificate(authority, { names: [host], withoutNames: true });
    const bare = { authority: authority.pem };
    expect(await lookAt('web', { address: await secure(old.key, old.cert), ...bare })).toMatchObject({
      cause: 'tls.no-names',
      detail: { subject: host },
    });
    const between = await issueAuthority(authority, 'Pier Authority', 12);
    const own = await issueCertificate(between, { names: [host], toDays: 60 });
    const chained = await lookAt('web', {
      address: await secure(own.key, `${own.cert}\n${between.pem}`),
      ...bare,
    });
    expect(chained).toMatchObject({
      verdict: 'slow',
      cause: 'tls.chain-expires-soon',
      detail: { name: 'Pier Authority' },
    });
    const lasting = await issueAuthority(authority, 'Pier Authority', 400);
    const fresh = await issueCertificate(lasting, { names: [host], toDays: 60 });
    const fine = await lookAt('web', {
      address: await secure(fresh.key, `${fresh.cert}\n${lasting.pem}`),
      ...bare,
    });
    expect(fine.verdict).toBe('fine');
  });

  it('of a client that does not fit its key is this side’s fault', async () => {
    const authority = await makeAuthority();
    const [one, other] = [
      await issueCertificate(authority, { names: ['ines'] }),
      await issueCertificate(authority, { names: ['rui'] }),
    ];
    const plain = await serve(http.createServer((_, response) => response.end('ok')));
    const settings = {
      address: `https://127.0.0.1:${plain}/`,
      clientCertificate: one.cert,
      clientKey: other.key,
    };
    expect((await lookAt('web', settings)).cause).toBe('look.wrong-key');
  });
});

describe('a database', () => {
  /** A server of PostgreSQL that says one thing to whoever signs in (protocol 3.0). */
  const refusing = (code: string, text: string) => {
    const fields = Buffer.from(`SFATAL\0VFATAL\0C${code}\0M${text}\0\0`);
    const head = Buffer.alloc(5);
    head.write('E');
    head.writeInt32BE(fields.length + 4, 1);
    return raw((socket) => socket.once('data', () => socket.end(Buffer.concat([head, fields]))));
  };
  const look = (port: number, timeoutMs = 2000) =>
    lookAt('database', { host: '127.0.0.1', port, user: 'office', password: 'fog' }, { timeoutMs });

  it('is starting, full, silent, or no database at all: each is told by itself', async () => {
    expect(await look(await refusing('57P03', 'the database system is starting up'))).toMatchObject({
      cause: 'sign-in.not-ready',
      detail: { said: 'the database system is starting up' },
    });
    expect((await look(await refusing('53300', 'sorry, too many clients already'))).cause).toBe(
      'sign-in.full',
    );
    expect((await look(await refusing('28P01', 'password authentication failed'))).cause).toBe(
      'sign-in.refused',
    );
    const silent = await look(await raw(() => undefined), 700);
    expect(silent.cause).toBe('answer.none');
    expect(ladder(silent).slice(0, 2)).toEqual(['name fine', 'port fine']);
    const web = await says('HTTP/1.1 400 Bad Request\r\n\r\n');
    expect(['reply.unexpected', 'reply.cut-off']).toContain((await look(web)).cause);
  });
});

describe('a ping', () => {
  it('takes as long as the way there and back, not as long as the program runs', async () => {
    const finding = await lookAt('ping', { host: '127.0.0.1', packets: 3 });
    if (finding.cause === 'look.no-ping') return expect(finding.detail).toHaveProperty('reason');
    expect(finding.ms).toBeLessThan(50);
    expect(finding.evidence!.facts!.find(({ label }) => label === 'round trip')).toBeDefined();
  });
});

describe('what is written on a page', () => {
  it.each([
    ['UTF-8 by its mark', Buffer.from('\uFEFFâ'), 'text/html; charset=shift_jis', 'utf-8'],
    ['UTF-16 by its mark', Buffer.from([0xff, 0xfe, 0x41, 0]), '', 'utf-16le'],
    ['what the reply says', Buffer.from('x'), 'text/html; charset="ISO-8859-1"', 'windows-1252'],
    ['what the page says', Buffer.from('<meta charset=windows-1251>'), 'text/html', 'windows-1251'],
    ['the reply before the page', Buffer.from('<meta charset=big5>'), 'text/html; charset=utf-8', 'utf-8'],
    ['nothing that exists', Buffer.from('x'), 'text/html; charset=klingon', 'utf-8'],
  ])('is read as %s', (_, bytes, type, charset) => {
    expect(charsetOf(bytes, type)).toBe(charset);
  });

  it('and values taken from it mean what a visitor reads; forms are sent as a browser sends them', async () => {
    let sent = '';
    const port = await serve(
      http.createServer((request, response) => {
        request.on('data', (chunk: Buffer) => (sent += chunk.toString()));
        response.writeHead(200, { 'content-type': 'text/html' });
        request.on('end', () => response.end('<input name="token" value="a&amp;b=c &quot;d&quot;">'));
      }),
    );
    const steps = [
      { address: at(port), take: 'token = /value="([^"]+)"/' },
      { address: at(port), method: 'POST', body: 'token={{token}}&pier=north' },
    ];
    expect((await lookAt('journey', { steps })).verdict).toBe('fine');
    expect(sent).toBe('token=a%26b%3Dc+%22d%22&pier=north');
  });
});
