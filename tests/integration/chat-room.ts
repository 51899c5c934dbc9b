import { createServer, type Server } from 'node:http';
import { expect } from 'vitest';
import { listen, trackSockets } from '@/standins/listener';
import type { Product } from './helpers';

/** With which status the so manieth message is answered; zero stands for a room that takes it and never says a word. */
export type Answer = (count: number) => number;

export interface ChatRoom {
  messages: string[];
  address: string;
}

/** A chat room that keeps what arrives, once `answer` lets it; `leave` is told how to close it. */
export async function openRoom(
  leave: (stop: () => Promise<void>) => unknown,
  answer: Answer = () => 200,
): Promise<ChatRoom> {
  const messages: string[] = [];
  let asked = 0;
  const server: Server = createServer((request, response) => {
    let body = '';
    request.on('data', (chunk: Buffer) => (body += chunk.toString()));
    request.on('end', () => {
      const status = answer((asked += 1));
      if (status === 0) return;
      if (status === 200) messages.push((JSON.parse(body) as { text: string }).text);
      response.writeHead(status).end(status === 200 ? 'received' : 'busy');
    });
  });
  leave(trackSockets(server));
  const port = await listen(server, 0);
  return { messages, address: `http://127.0.0.1:${port}/hook` };
}

/** Connects a room to a product; resolves to the id of its channel. */
export async function connect(
  to: Pick<Product, 'api'>,
  address: string,
  name = 'Crew room',
): Promise<number> {
  const made = await to.api('POST', '/channels', { kind: 'webhook', name, settings: { address } });
  expect(made.status).toBe(201);
  return (made.body as { id: number }).id;
}
