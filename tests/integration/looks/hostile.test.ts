import { createServer, type Socket } from 'node:net';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { CAUSE_CODES } from '@/core/causes/causes';
import { listen, trackSockets } from '@/standins/listener';
import { lookAt } from './looks';

/** Servers that answer everybody with what nobody expects. */
const HOSTILE: Record<string, (socket: Socket) => void> = {
  'closes at once': (socket) => void socket.end(),
  'resets at once': (socket) => void socket.resetAndDestroy(),
  'says nothing at all': () => undefined,
  'sends random bytes': (socket) =>
    void socket.end(Buffer.from(Array.from({ length: 4000 }, (_, i) => (i * 7919 + 13) % 256))),
  'sends zeros': (socket) => void socket.end(Buffer.alloc(5000)),
  'sends one endless line': (socket) => {
    const more = () => {
      while (!socket.destroyed && socket.write('x'.repeat(65_536)));
      if (!socket.destroyed) socket.once('drain', more);
    };
    more();
  },
  'drips one byte at a time': (socket) => {
    const drop = setInterval(() => socket.write('2'), 20);
    socket.on('close', () => clearInterval(drop));
  },
  'speaks HTTP whatever is asked': (socket) =>
    void socket.end('HTTP/1.1 400 Bad Request\r\ncontent-length: 4\r\n\r\noops'),
  'repeats what it hears': (socket) => void socket.pipe(socket),
  'breaks off in the middle of a word': (socket) => void socket.end('22'),
  'claims a message of two gigabytes': (socket) =>
    void socket.end(Buffer.from([0x52, 0x7f, 0xff, 0xff, 0xff, 0, 0, 0, 0, 0x30, 0xff, 0xff, 0xff, 0x7f])),
};

const host = '127.0.0.1';
const LOOKS: [string, (port: number) => object][] = [
  ['web', (port) => ({ address: `http://${host}:${port}/`, words: 'Sail' })],
  ['web', (port) => ({ address: `https://${host}:${port}/` })],
  ['port', (port) => ({ host, port, send: 'hello', expect: 'READY' })],
  ['port', (port) => ({ host, port, tls: true })],
  ['certificate', (port) => ({ host, port })],
  ['certificate', (port) => ({ host, port, starttls: 'smtp' })],
  ['certificate', (port) => ({ host, port, starttls: 'imap' })],
  ['certificate', (port) => ({ host, port, starttls: 'pop3' })],
  ['certificate', (port) => ({ host, port, starttls: 'postgresql' })],
  ['certificate', (port) => ({ host, port, starttls: 'mysql' })],
  ['websocket', (port) => ({ address: `ws://${host}:${port}/`, expect: 'x' })],
  ['mail', (port) => ({ service: 'smtp', host, port })],
  ['mail', (port) => ({ service: 'imap', host, port, security: 'none', user: 'office', password: 'fog' })],
  ['database', (port) => ({ host, port, user: 'office', password: 'fog' })],
  ['database', (port) => ({ service: 'mysql', host, port, user: 'office', password: 'fog' })],
  ['database', (port) => ({ host, port, user: 'office', password: 'fog', tls: true })],
  ['redis', (port) => ({ host, port, key: 'seats', password: 'fog' })],
  ['broker', (port) => ({ host, port, topic: 'pier/level' })],
  ['container', (port) => ({ container: 'booking', engine: `${host}:${port}` })],
  ['journey', (port) => ({ steps: [{ address: `http://${host}:${port}/`, words: 'Sail' }] })],
  ['reading', (port) => ({ source: 'json', address: `http://${host}:${port}/`, path: '$.level' })],
  ['reading', (port) => ({ source: 'topic', host, port, topic: 'pier/level' })],
];

describe.each(Object.entries(HOSTILE))('a server that %s', (_, behave) => {
  let port: number;
  let stop: () => Promise<void>;

  beforeAll(async () => {
    const server = createServer((socket) => {
      socket.on('error', () => socket.destroy());
      behave(socket);
    });
    stop = trackSockets(server);
    port = await listen(server, 0);
  });
  afterAll(() => stop());

  // A fault that went past every handler would fail the whole run, as it would end the engine.
  it.concurrent.each(LOOKS)(
    'fails a look of the kind %s with a cause, in bounded time',
    async (kind, settings) => {
      const finding = await lookAt(kind, settings(port), { timeoutMs: 400 });
      expect(finding.verdict).toBe('failed');
      expect(CAUSE_CODES).toContain(finding.cause);
      expect(finding.cause).not.toBe('look.broken');
      await new Promise((resolve) => setTimeout(resolve, 30));
    },
  );
});
