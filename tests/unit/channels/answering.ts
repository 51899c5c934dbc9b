import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { afterEach, beforeEach } from 'vitest';

export interface Asked {
  url: string;
  method: string;
  headers: Record<string, string | string[] | undefined>;
  body: string;
}

export interface Said {
  status?: number;
  headers?: Record<string, string>;
  body?: unknown;
}

/** A room on this machine: it notes what it is asked, and answers what a test wants. */
export class AnsweringRoom {
  base = '';
  asked: Asked[] = [];
  /** What it answers; an object goes as JSON. */
  answer: (asked: Asked) => Said = () => ({});
  private server!: Server;

  json(index = -1): Record<string, unknown> {
    return JSON.parse(this.asked.at(index)!.body) as Record<string, unknown>;
  }

  async start(): Promise<void> {
    this.asked = [];
    this.answer = () => ({});
    this.server = createServer((request, response) => {
      const chunks: Buffer[] = [];
      request.on('data', (chunk: Buffer) => chunks.push(chunk));
      request.on('end', () => {
        const { url = '', method = '', headers } = request;
        const asked = { url, method, headers, body: Buffer.concat(chunks).toString() };
        this.asked.push(asked);
        const { status = 200, headers: said = {}, body = '' } = this.answer(asked);
        response.writeHead(status, said).end(typeof body === 'string' ? body : JSON.stringify(body));
      });
    });
    await new Promise<void>((resolve) => this.server.listen(0, '127.0.0.1', resolve));
    this.base = `http://127.0.0.1:${(this.server.address() as AddressInfo).port}`;
  }

  async stop(): Promise<void> {
    this.server.closeAllConnections();
    await new Promise((resolve) => this.server.close(resolve));
  }
}

/** A room for each test of a group. */
export function answeringRoom(): AnsweringRoom {
  const room = new AnsweringRoom();
  beforeEach(() => room.start());
  afterEach(() => room.stop());
  return room;
}
