import { join } from 'node:path';
import { rmSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:net';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { socketFailure } from '@/probes/kinds/container';
import { issueCertificate, makeAuthority, type KeyAndCertificate } from '@/standins/certificates';
import { PracticeBerths } from '@/standins/berths';
import { PracticeBroker } from '@/standins/broker';
import { PracticeCache } from '@/standins/cache';
import { PracticeContainers } from '@/standins/containers';
import { PracticeCounter } from '@/standins/counter';
import { PracticeGauge } from '@/standins/gauge';
import { PracticeKiosk } from '@/standins/kiosk';
import { PracticeLedger } from '@/standins/ledger';
import { listen, trackSockets } from '@/standins/listener';
import { PracticeNames } from '@/standins/names';
import { PracticePost } from '@/standins/post';
import { PracticeSite } from '@/standins/site';
import type { StandIn } from '@/standins/stand-in';
import { tempFolder } from '../helpers';
import { came, lookAt } from './looks';

const host = '127.0.0.1';
const SIGN_IN = { user: 'office', password: 'the boats sail at dawn' };
const folder = tempFolder();
const started: StandIn[] = [];
let authority: Awaited<ReturnType<typeof makeAuthority>>;
let ca: string;
let secure: { fine: KeyAndCertificate; expired: KeyAndCertificate };

async function up<T extends StandIn>(standIn: T): Promise<T> {
  await standIn.start();
  started.push(standIn);
  return standIn;
}

beforeAll(async () => {
  authority = await makeAuthority();
  ca = authority.pem;
  secure = {
    fine: await issueCertificate(authority, { names: [host] }),
    expired: await issueCertificate(authority, { names: [host], fromDays: -90, toDays: -2 / 24 }),
  };
});

afterAll(async () => {
  for (const standIn of started) await standIn.stop();
  rmSync(folder, { recursive: true, force: true });
});

/** Puts a stand-in into each mode and says what a look then comes to. */
async function inEachMode(standIn: StandIn, look: () => Promise<string>): Promise<Record<string, string>> {
  const seen: Record<string, string> = {};
  for (const mode of standIn.modes) {
    await standIn.setMode(mode);
    seen[mode] = await look();
  }
  await standIn.setMode('fine');
  return seen;
}

describe('each kind of probe tells each way its stand-in breaks', () => {
  it('port: open, and the answer expected', async () => {
    const kiosk = await up(new PracticeKiosk('kiosk', 'Ticket kiosk', 0));
    const settings = { host, port: kiosk.port, send: 'STATUS\\r\\n', expect: 'PAPER 80%' };
    expect(await inEachMode(kiosk, () => came('port', settings))).toEqual({
      fine: 'fine',
      stopped: 'port.refused',
      'out of paper': 'answer.differs',
    });
    const silent = createServer(() => undefined);
    const stop = trackSockets(silent);
    const port = await listen(silent, 0);
    expect(await came('port', { host, port, expect: 'READY' }, { timeoutMs: 300 })).toBe('answer.none');
    await stop();
  });

  it('port with TLS checks the certificate', async () => {
    const rota = await up(new PracticeSite({ id: 'rota', title: 'Rota', words: 'x', port: 0, secure }));
    const settings = { host, port: rota.port, tls: true };
    expect(await came('port', settings)).toBe('tls.untrusted');
    expect(await came('port', { ...settings, authority: ca })).toBe('fine');
    const unchecked = await lookAt('port', { ...settings, skipVerify: true });
    expect(unchecked).toMatchObject({ verdict: 'fine', evidence: { unchecked: true } });
  });

  it('datagram: a refusal is certain, silence is told as silence', async () => {
    const gauge = await up(new PracticeGauge('gauge', 'Tide gauge', 0));
    const settings = { host, port: gauge.port, send: 'LEVEL?', expect: 'cm' };
    const look = () => came('datagram', settings, { timeoutMs: 500 });
    expect(await inEachMode(gauge, look)).toEqual({
      fine: 'fine',
      stopped: 'port.refused',
      silent: 'datagram.silent',
      'out of range': 'answer.differs',
    });
    await gauge.setMode('silent');
    const quiet = { ...settings, silenceIsFine: true };
    expect(await came('datagram', quiet, { timeoutMs: 400 })).toBe('fine');
  });

  it('name: found, not there, not answered and refused are told apart', async () => {
    const names = await up(new PracticeNames('names', 'Name server', 0));
    const settings = {
      name: 'ternferry.test',
      type: 'A',
      resolver: `127.0.0.1:${names.port}`,
      rule: 'equals',
      expected: '192.0.2.11\n192.0.2.10',
    };
    expect(await inEachMode(names, () => came('name', settings, { timeoutMs: 1200 }))).toEqual({
      fine: 'fine',
      stopped: 'name.server-failed',
      silent: 'name.timeout',
      'server fails': 'name.server-failed',
      'no such name': 'name.not-found',
      refuses: 'name.refused',
      'other address': 'record.differs',
    });
    const ask = (rest: object) => came('name', { ...settings, rule: 'exists', ...rest });
    expect(await ask({ name: 'www.ternferry.test', type: 'MX' })).toBe('name.no-record');
    expect(await ask({ name: 'many.ternferry.test' })).toBe('fine');
    expect(await ask({ rule: 'contains', expected: '192.0.2.99' })).toBe('record.missing');
  });

  it.each([
    ['A', 'ternferry.test', '192.0.2.10'],
    ['AAAA', 'ternferry.test', '2001:0db8:0::10'],
    ['CNAME', 'www.ternferry.test', 'TERNFERRY.test.'],
    ['MX', 'ternferry.test', '10 mail.ternferry.test'],
    ['TXT', 'ternferry.test', 'v=spf1 mx -all'],
    ['NS', 'ternferry.test', 'ns1.ternferry.test'],
    ['SRV', '_imaps._tcp.ternferry.test', '5 1 993 mail.ternferry.test'],
    ['CAA', 'ternferry.test', '0 issue "ca.example"'],
    ['PTR', '192.0.2.10', 'ternferry.test'],
  ])('name: a %s record of %s is compared as a person writes it', async (type, name, expected) => {
    const names = started.find((standIn) => standIn.id === 'names') as PracticeNames;
    const settings = { name, type, resolver: `127.0.0.1:${names.port}`, rule: 'contains', expected };
    expect(await came('name', settings)).toBe('fine');
  });

  it('name: what must not change is compared with what was found first, and stays the measure', async () => {
    const names = started.find((standIn) => standIn.id === 'names') as PracticeNames;
    const settings = { name: 'ternferry.test', resolver: `127.0.0.1:${names.port}`, rule: 'same' };
    const first = await lookAt('name', settings);
    expect(first.evidence!.baseline).toBe('192.0.2.10\n192.0.2.11');
    await names.setMode('other address');
    const changed = await lookAt('name', settings, { before: first.evidence });
    expect(changed).toMatchObject({
      cause: 'record.changed',
      evidence: { baseline: first.evidence!.baseline },
    });
    await names.setMode('fine');
    expect(await came('name', settings, { before: changed.evidence })).toBe('fine');
  });

  it.each(['smtp', 'imap'] as const)(
    'mail server and certificate: %s with STARTTLS and sign-in',
    async (speaks) => {
      const post = await up(
        new PracticePost({ id: speaks, title: 'Office mail', port: 0, speaks, secure, ...SIGN_IN }),
      );
      const settings = { service: speaks, host, port: post.port, authority: ca, ...SIGN_IN };
      expect(await inEachMode(post, () => came('mail', settings))).toEqual({
        fine: 'fine',
        stopped: 'port.refused',
        busy: speaks === 'smtp' ? 'command.refused' : 'reply.unexpected',
        'refuses sign-in': 'sign-in.refused',
        'no TLS': 'tls.not-offered',
        'expired certificate': 'tls.expired',
      });
      const plain = { ...settings, security: 'none', greeting: 'mail.ternferry.test' };
      expect(await came('mail', plain)).toBe('fine');
      expect(await came('mail', { ...plain, greeting: 'elsewhere' })).toBe('answer.differs');
      const certificate = { host, port: post.port, starttls: speaks, authority: ca, soonDays: 10 };
      expect(await came('certificate', certificate)).toBe('fine');
      await post.setMode('expired certificate');
      expect(await came('certificate', certificate)).toBe('tls.expired');
      await post.setMode('no TLS');
      expect(await came('certificate', certificate)).toBe('tls.not-offered');
    },
  );

  it('mail server: another service on the port is told as such', async () => {
    const site = await up(new PracticeSite({ id: 'other', title: 'Other', words: 'x', port: 0 }));
    const settings = { service: 'smtp', host, port: site.port };
    expect(await came('mail', settings, { timeoutMs: 400 })).toBe('reply.timeout');
  });

  it('certificate: soon wants a hand, urgent fails, and dates, key, chain and protocol are shown', async () => {
    const site = await up(
      new PracticeSite({
        id: 'short',
        title: 'Short',
        words: 'x',
        port: 0,
        secure: { ...secure, fine: await issueCertificate(authority, { names: [host], toDays: 10 }) },
      }),
    );
    const settings = { host, port: site.port, authority: ca };
    const soon = await lookAt('certificate', settings);
    expect(soon).toMatchObject({ verdict: 'slow', cause: 'tls.expires-soon' });
    expect(soon.evidence!.certificate).toMatchObject({
      names: [host],
      protocol: 'TLSv1.3',
      key: expect.stringMatching(/^(RSA \d+|EC )/) as string,
      fingerprint: expect.stringMatching(/^[0-9a-f]{64}$/) as string,
    });
    const urgent = await lookAt('certificate', { ...settings, urgentDays: 12 });
    expect(urgent).toMatchObject({ verdict: 'failed', cause: 'tls.expires-urgent' });
    const page = { address: `https://${host}:${site.port}/`, authority: ca };
    expect(await lookAt('web', page)).toMatchObject({ verdict: 'slow', cause: 'tls.expires-soon' });
    expect(await lookAt('web', { ...page, urgentDays: 12 })).toMatchObject({
      verdict: 'slow',
      cause: 'tls.expires-urgent',
    });
    expect(
      await came('certificate', { ...settings, leastProtocol: 'TLSv1.3', soonDays: 1, urgentDays: 0 }),
    ).toBe('fine');
  });

  it('WebSocket: handshake, message and answer', async () => {
    const berths = await up(new PracticeBerths('berths', 'Berths', 0));
    const settings = { address: berths.address, send: 'where?', expect: 'Tern' };
    expect(await inEachMode(berths, () => came('websocket', settings, { timeoutMs: 500 }))).toEqual({
      fine: 'fine',
      stopped: 'port.refused',
      'plain page': 'reply.no-upgrade',
      'says nothing': 'answer.none',
      'no boats': 'answer.differs',
    });
    expect(await came('websocket', { address: berths.address })).toBe('fine');
  });

  it('database: sign-in, query and result', async () => {
    const ledger = await up(new PracticeLedger('ledger', 'Ledger', 0, { fine: '12', other: '180' }));
    const settings = {
      host,
      port: ledger.port,
      user: 'reader',
      query: 'SELECT count(*) FROM waiting',
      comparison: 'at most',
      value: '100',
    };
    expect(await inEachMode(ledger, () => came('database', settings))).toEqual({
      fine: 'fine',
      stopped: 'port.refused',
      'refuses sign-in': 'sign-in.refused',
      'query fails': 'command.refused',
      'other value': 'value.differs',
    });
    expect(await came('database', { ...settings, tls: true })).toBe('tls.not-offered');
  });

  it('Redis: PING and a key', async () => {
    const cache = await up(new PracticeCache('cache', 'Cache', 0));
    const settings = { host, port: cache.port, key: 'seats:free', comparison: 'at least', value: '10' };
    expect(await inEachMode(cache, () => came('redis', settings))).toEqual({
      fine: 'fine',
      stopped: 'port.refused',
      'wants a password': 'sign-in.refused',
      'other value': 'value.differs',
    });
    expect(await came('redis', { ...settings, key: 'seats:gone' })).toBe('value.none');
  });

  it('broker: the last value of a topic, and how old it is', async () => {
    const broker = await up(new PracticeBroker('broker', 'Broker', 0));
    const settings = {
      host,
      port: broker.port,
      topic: 'crew-house/temperature',
      path: '$.celsius',
      comparison: 'at most',
      value: '25',
    };
    expect(await inEachMode(broker, () => came('broker', settings, { timeoutMs: 900 }))).toEqual({
      fine: 'fine',
      stopped: 'port.refused',
      'refuses sign-in': 'sign-in.refused',
      'says nothing': 'topic.silent',
      'too warm': 'value.differs',
    });
    const first = await lookAt('broker', { ...settings, mostAgeSeconds: 600 });
    const later = Date.now() + 700_000;
    const old = await lookAt(
      'broker',
      { ...settings, mostAgeSeconds: 600 },
      { before: first.evidence, now: () => later },
    );
    expect(old).toMatchObject({ cause: 'value.old', evidence: { seenSince: first.evidence!.seenSince } });
  });

  it('container: its state and its health', async () => {
    const engine = await up(new PracticeContainers('engine', 'Engine', join(folder, 'engine.sock')));
    const settings = { container: 'booking-web', engine: engine.socketPath };
    expect(await inEachMode(engine, () => came('container', settings))).toEqual({
      fine: 'fine',
      stopped: 'container.no-engine',
      exited: 'container.stopped',
      unhealthy: 'container.unhealthy',
      'container gone': 'container.missing',
    });
    const away = await lookAt('container', { ...settings, engine: join(folder, 'nowhere.sock') });
    expect(away.evidence!.ladder!.map((rung) => `${rung.label} ${rung.result}`)).toEqual([
      'socket failed',
      'reply not-reached',
      'state not-reached',
    ]);
    const refused = socketFailure(Object.assign(new Error(), { code: 'EACCES' }), '/run/engine.sock');
    expect(refused).toMatchObject({
      failure: { cause: 'look.no-permission', detail: { path: '/run/engine.sock' } },
    });
    await engine.setMode('unhealthy');
    expect(await came('container', { ...settings, mustBeHealthy: false })).toBe('fine');
  });

  it('reading: a number from JSON, a pattern, a database and a topic, against its limits', async () => {
    const counter = await up(new PracticeCounter('counter', 'Counter', 0));
    const address = `${counter.address}queue`;
    const settings = {
      source: 'json',
      address,
      path: '$.waiting',
      what: 'The queue',
      warnHigh: 50,
      failHigh: 100,
    };
    const fine = await lookAt('reading', settings);
    expect(fine.evidence!.reading).toEqual({ value: 12, unit: '' });
    expect(await lookAt('reading', { ...settings, warnHigh: 10 })).toMatchObject({
      verdict: 'slow',
      cause: 'value.high-soon',
    });
    await counter.setMode('long queue');
    expect(await came('reading', settings)).toBe('value.high');
    const text = { ...settings, source: 'text', pattern: '"waiting":(\\d+)', failHigh: 500, warnHigh: null };
    expect((await lookAt('reading', text)).evidence!.reading!.value).toBe(180);
    expect(await came('reading', { ...settings, path: '$.unit' })).toBe('value.no-number');
    expect(await came('reading', { ...settings, path: '$.gone' })).toBe('value.none');
    const ledger = started.find((standIn) => standIn.id === 'ledger') as PracticeLedger;
    const row = {
      source: 'database',
      host,
      port: ledger.port,
      user: 'reader',
      query: 'SELECT 1',
      failLow: 20,
    };
    expect(await came('reading', row)).toBe('value.low');
    const broker = started.find((standIn) => standIn.id === 'broker') as PracticeBroker;
    const topic = {
      source: 'topic',
      host,
      port: broker.port,
      topic: 'crew-house/temperature',
      path: '$.celsius',
    };
    expect((await lookAt('reading', { ...topic, unit: '°C' })).evidence!.reading).toEqual({
      value: 20.5,
      unit: '°C',
    });
  });

  it('journey: cookies and values go along; the step that broke is named and secrets are blanked', async () => {
    const counter = started.find((standIn) => standIn.id === 'counter') as PracticeCounter;
    await counter.setMode('fine');
    const settings = {
      secrets: 'password = the boats sail at dawn',
      steps: [
        // Left empty in a form, status codes are the usual ones.
        { name: 'Open', address: counter.address, accepted: '', take: 'ticket = /value="([^"]+)"/' },
        {
          name: 'Sign in',
          method: 'POST',
          address: '/sign-in',
          headers: 'content-type: application/json',
          body: '{"ticket": "{{ticket}}", "password": "{{password}}"}',
          take: 'crossing = $.crossings[0].id',
        },
        {
          name: 'Book',
          method: 'POST',
          address: '/book',
          body: '{"crossing": "{{crossing}}"}',
          accepted: '201',
          words: 'c-0815',
        },
      ],
    };
    const fine = await lookAt('journey', settings);
    expect(fine.evidence!.steps!.map((step) => [step.name, step.result, step.status])).toEqual([
      ['Open', 'fine', 200],
      ['Sign in', 'fine', 200],
      ['Book', 'fine', 201],
    ]);
    await counter.setMode('sign-in broken');
    const broken = await lookAt('journey', settings);
    expect(broken).toMatchObject({
      cause: 'reply.status',
      detail: { step: 'Step 2, “Sign in”', status: 401 },
    });
    expect(broken.evidence!.steps!.map((step) => step.result)).toEqual(['fine', 'failed', 'not-reached']);
    await counter.setMode('sold out');
    expect(await lookAt('journey', settings)).toMatchObject({
      cause: 'value.none',
      detail: { step: 'Step 2, “Sign in”' },
    });
    expect(JSON.stringify(broken.evidence)).not.toContain('dawn');
  });

  it('combined: all, any and at least so many; what is paused is left out, what waits says nothing', async () => {
    const states = ['up', 'down', 'up', 'paused'] as const;
    const other = (id: number) => ({ name: `watch ${id}`, state: states[id - 1]! });
    const look = (settings: object, rest = {}) =>
      came('combined', { parts: [1, 2, 3, 4], ...settings }, { other, ...rest });
    expect(await look({ rule: 'all' })).toBe('parts.down');
    expect(await look({ rule: 'any' })).toBe('fine');
    expect(await look({ rule: 'at least', least: 2 })).toBe('fine');
    expect(await look({ rule: 'at least', least: 3 })).toBe('parts.down');
    expect(await look({ parts: [4] })).toBe('look.no-parts');
    expect(await look({ parts: [1] }, { other: () => ({ name: 'new', state: 'waiting' }) })).toBe(
      'look.no-parts',
    );
  });

  it('ping: a host that answers, one that does not, and a machine without ping', async () => {
    const fine = await lookAt('ping', { host, packets: 2 });
    expect(fine.evidence!.facts).toContainEqual({ label: 'packets', value: '2 of 2 came back' });
    const path = process.env.PATH;
    process.env.PATH = folder;
    // A ping program of our own, for lines this machine does not have.
    const program = (received: number, line: string) =>
      writeFileSync(
        join(folder, 'ping'),
        `#!/bin/sh\necho '4 packets transmitted, ${received} received, x% packet loss'\necho '${line}'\n`,
        { mode: 0o755 },
      );
    const rtt = 'rtt min/avg/max/mdev = 80.0/120.5/150.0/1.0 ms';
    try {
      program(0, '');
      expect(await came('ping', { host })).toBe('host.silent');
      program(1, rtt);
      expect(await lookAt('ping', { host })).toMatchObject({
        cause: 'host.loss',
        detail: { lost: 75, limit: 50 },
      });
      program(4, rtt);
      expect(await came('ping', { host, mostMs: 100 })).toBe('host.far');
      expect(await came('ping', { host, mostMs: 200 })).toBe('fine');
      // More at once than this machine runs: whoever waits in vain blames the machine, not the host.
      writeFileSync(join(folder, 'ping'), '#!/bin/sh\nexec /bin/sleep 2\n', { mode: 0o755 });
      const crowd = (count: number, timeoutMs: number) =>
        Promise.all(Array.from({ length: count }, () => came('ping', { host }, { timeoutMs })));
      const [first, late] = await Promise.all([crowd(16, 1500), crowd(4, 400)]);
      expect(new Set(first)).toEqual(new Set(['host.silent']));
      expect(new Set(late)).toEqual(new Set(['look.no-ping']));
      rmSync(join(folder, 'ping'));
      const missing = await lookAt('ping', { host });
      expect(missing).toMatchObject({
        cause: 'look.no-ping',
        detail: { reason: 'the ping program is not installed' },
      });
    } finally {
      process.env.PATH = path;
    }
  });
});
