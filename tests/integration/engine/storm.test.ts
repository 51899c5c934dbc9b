import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { rmSync } from 'node:fs';
import type { Knex } from 'knex';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { KeptMessage } from '@/core/messages/kept-message';
import { factsOf, threadOf } from '@/core/telling/happen';
import { transaction } from '@/store/db/connection';
import { openStore } from '@/store/db/open';
import { saveHappening } from '@/store/messages/happenings';
import { fetchTelling } from '@/store/messages/telling';
import { sayTo } from '../say-to';
import { startProduct, until, type Product } from '../helpers';

const KILLS = 4;
const ROOMS = 4;
const MESSAGES = 250;
const TROUBLES = 1_000;

describe('killed in the middle of a storm', () => {
  let product: Product;
  let db: Knex;
  let channels: number[];
  /** How often each room was told what. */
  const told = new Map<string, number>();
  const server = createServer((request, response) => {
    const chunks: Buffer[] = [];
    request.on('data', (chunk: Buffer) => chunks.push(chunk));
    request.on('end', () => {
      const { text } = JSON.parse(Buffer.concat(chunks).toString()) as { text: string };
      const key = `${request.url} ${text.split('\n')[0]}`;
      told.set(key, (told.get(key) ?? 0) + 1);
      // A little time in which the sender may die between the answer and noting it.
      setTimeout(() => response.end('ok'), 3);
    });
  });

  beforeAll(async () => {
    await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
    const base = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
    product = await startProduct();
    channels = [];
    for (let i = 0; i < ROOMS; i += 1) {
      const body = { kind: 'webhook', name: `Room ${i}`, settings: { address: `${base}/${i}` } };
      channels.push(((await product.api('POST', '/channels', body)).body as { id: number }).id);
    }
    db = await openStore(product.folder, { migrate: false });
  });
  afterAll(async () => {
    await db.destroy();
    await product.stop();
    rmSync(product.folder, { recursive: true });
    server.closeAllConnections();
    server.close();
  });

  async function killAtRandom(): Promise<void> {
    for (let i = 0; i < KILLS; i += 1) {
      await new Promise((resolve) => setTimeout(resolve, 30 + Math.random() * 300));
      const pid = product.enginePid();
      process.kill(pid, 'SIGKILL');
      await until(() => product.enginePid() !== pid, 'a new engine');
    }
  }

  const waiting = async () =>
    Number((await db('deliveries').where('state', 'waiting').count({ n: '*' }).first())?.n);

  it('hands every message over, and no more of them twice than were under way', async () => {
    const event = { kind: 'new-checkin', section: 'Piers', address: '192.0.2.7' } as const;
    const at = Date.now();
    for (let i = 0; i < MESSAGES; i += 1) await sayTo(db, { event, name: `Kiosk ${i}`, channels, at });
    await product.api('PATCH', `/channels/${channels[0]!}`, { enabled: true });
    await killAtRandom();
    await until(async () => (await waiting()) === 0, 'all of it has gone', 60_000);
    expect(told.size).toBe(MESSAGES * ROOMS);
    const doubles = [...told.values()].reduce((sum, times) => sum + times - 1, 0);
    // One goes at a time to each room.
    expect(doubles).toBeLessThanOrEqual(KILLS * ROOMS);
  });

  it('tells of every trouble once in every room, by itself or among others', async () => {
    await db('deliveries').delete();
    await db('messages').delete();
    const at = Date.now();
    const storm = async () => {
      for (let from = 0; from < TROUBLES; from += 50) {
        await transaction(db, async (trx) => {
          for (let id = from; id < from + 50; id += 1) {
            const watch = factsOf({
              id: 10_000 + id,
              name: `Kiosk ${id}`,
              kind: 'web',
              section: null,
              tags: [],
            });
            const down = {
              kind: 'down' as const,
              began: at,
              noticed: at,
              cause: 'port.refused' as const,
              detail: {},
            };
            await saveHappening(trx, { thread: threadOf(watch.id), phase: 'opens', watch, event: down }, at);
          }
        });
        await new Promise((resolve) => setTimeout(resolve, 60));
      }
    };
    await Promise.all([storm(), killAtRandom()]);
    const left = async () =>
      Number((await db('happenings').whereNull('told_at').count({ n: '*' }).first())?.n);
    // Whatever is told to the engine wakes it; nothing has to be.
    await product.api('PATCH', `/channels/${channels[0]!}`, { enabled: true });
    await until(async () => (await left()) === 0, 'all has gone through the routes', 60_000);
    const rows = await db('deliveries')
      .join('messages', 'messages.id', 'deliveries.message_id')
      .where('deliveries.channel_id', channels[1]!)
      .select<{ event: string }[]>('messages.event');
    const said = rows.flatMap(({ event: kept }) => {
      const { event, watchName } = JSON.parse(kept) as KeptMessage;
      return event.kind === 'several' ? event.items.map(({ name }) => name) : [watchName];
    });
    // What is gathered is told when its minute is over; until then it is remembered.
    const { rooms } = await fetchTelling(db);
    const gathered = rooms.get(channels[1]!)?.openings?.gathered.map(({ watch }) => watch!.name) ?? [];
    const named = [...said, ...gathered];
    expect(new Set(named).size).toBe(TROUBLES);
    expect(named).toHaveLength(TROUBLES);
  });
});
