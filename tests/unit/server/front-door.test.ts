import { once } from 'node:events';
import type { Server } from 'node:http';
import { connect, type AddressInfo } from 'node:net';
import { setTimeout } from 'node:timers/promises';
import { afterEach, expect, it, vi } from 'vitest';
import { createFrontDoor, REQUEST_LIMITS, type FrontDoorParts } from '@/server/front-door';

let server: Server;

afterEach(() => {
  server.closeAllConnections();
  server.close();
});

/** A door with nothing behind it but health. */
async function open(limits: Partial<typeof REQUEST_LIMITS> = {}): Promise<number> {
  const parts = { trust: { clean: () => '192.0.2.7' }, encrypted: false } as unknown as FrontDoorParts;
  server = createFrontDoor(parts, limits).listen(0, '127.0.0.1');
  await once(server, 'listening');
  return (server.address() as AddressInfo).port;
}

/** What comes back for a header, until the other side hangs up. */
async function answerTo(port: number, header: string): Promise<string> {
  const socket = connect(port, '127.0.0.1');
  let answer = '';
  socket.on('data', (chunk) => (answer += String(chunk)));
  socket.on('error', () => undefined);
  socket.write(header);
  await once(socket, 'close');
  return answer;
}

it('answers a request whose header is as large as browsers send them', async () => {
  const port = await open();
  const cookie = 'x'.repeat(12_000);
  const header = `GET /healthz HTTP/1.1\r\nHost: a.test\r\nConnection: close\r\nCookie: ${cookie}\r\n\r\n`;
  expect(await answerTo(port, header)).toMatch(/^HTTP\/1\.1 200 /);
});

it('refuses a header of more than 16 kB before anything reads it', async () => {
  const port = await open();
  const header = `GET /healthz HTTP/1.1\r\nHost: a.test\r\nCookie: ${'x'.repeat(17_000)}\r\n\r\n`;
  expect(await answerTo(port, header)).toMatch(/^HTTP\/1\.1 431 /);
});

it('hangs up on a header that does not end', async () => {
  const port = await open({ headersTimeout: 150, requestTimeout: 300, connectionsCheckingInterval: 20 });
  expect(await answerTo(port, 'GET /healthz HTTP/1.1\r\nHost: a.test\r\n')).toMatch(/^HTTP\/1\.1 408 /);
});

it('gives a header 20 seconds and a request two minutes, looked after every five', async () => {
  await open();
  expect(server.headersTimeout).toBe(20_000);
  expect(server.requestTimeout).toBe(120_000);
  expect(REQUEST_LIMITS.connectionsCheckingInterval).toBe(5_000);
});

it('keeps a line for longer than the proxies before it do, whatever a header may take', async () => {
  const port = await open({ headersTimeout: 150, requestTimeout: 300, connectionsCheckingInterval: 20 });
  const socket = connect(port, '127.0.0.1');
  let answers = '';
  socket.on('data', (chunk) => (answers += String(chunk)));
  const heard = () => answers.match(/HTTP\/1\.1 200 /g)?.length ?? 0;
  const asks = 'GET /healthz HTTP/1.1\r\nHost: a.test\r\n\r\n';
  socket.write(asks);
  await vi.waitFor(() => expect(heard()).toBe(1));
  expect(answers).toMatch(/^Keep-Alive: timeout=65\r$/m);
  // The bounds of a header and of a request are passed twice.
  await setTimeout(700);
  socket.write(asks);
  await vi.waitFor(() => expect(heard()).toBe(2));
  socket.destroy();
});
