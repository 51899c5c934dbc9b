import http from 'node:http';
import { later, Pacer } from '@/ui/live/refresh-pace';
import { ChangesOfDesk } from '@/ui/overview/changes-of-desk';
import type { Product } from '../tests/integration/helpers';
import type { BenchTable } from './table';

const DESKS = 8;
const ROWS = 100;
/** So many of all change each second. */
const CHANGING = 0.05;
const MEASURE_MS = 15_000;
const A_DAY_OF_PIXELS_MS = 86_400_000 / 800;

interface Desk {
  /** How often it was read, and how much came. */
  reads: number;
  bytes: number;
  slowestMs: number;
  close: () => void;
}

/** What a browser does with the overview open: hears what changes, and reads that at the pace of the product. */
function openDesk({ base }: Product, cookie: string, rows: readonly number[]): Desk {
  const changes = new ChangesOfDesk();
  changes.show(0, rows);
  const desk: Desk = { reads: 0, bytes: 0, slowestMs: 0, close: () => undefined };
  const read = async (path: string) => {
    const answer = await fetch(`${base}${path}`, { headers: { cookie } });
    if (answer.status !== 200) throw new Error(`Expected 200 at ${path}, got ${answer.status}`);
    desk.bytes += (await answer.arrayBuffer()).byteLength;
  };
  let closed = false;
  const draw = async () => {
    const began = performance.now();
    const what = changes.take(Date.now(), A_DAY_OF_PIXELS_MS);
    if (what === 'whole') {
      await read('/');
      changes.readAnew();
    } else {
      const lines = `/api/v1/lines?range=24h&limit=${what.length}&ids=${what.join(',')}`;
      await Promise.all([read('/api/v1/overview'), what.length > 0 && read(lines)]);
    }
    desk.reads += 1;
    desk.slowestMs = Math.max(desk.slowestMs, performance.now() - began);
    pacer.drawn();
    if (changes.any && !closed) pacer.want();
  };
  const drawn = () =>
    draw().catch((error: unknown) => {
      if (!closed) throw error;
    });
  const pacer = new Pacer({ now: () => Date.now(), later, draw: () => void drawn() });
  const request = http.get(`${base}/live`, { headers: { cookie } }, (response) => {
    let text = '';
    response.setEncoding('utf8').on('data', (piece: string) => {
      const events = (text + piece).split('\n\n');
      text = events.pop()!;
      for (const event of events) {
        if (!/^event: watches$/m.test(event)) continue;
        const data = JSON.parse(/^data: (.*)$/m.exec(event)![1]!) as { id: number }[];
        changes.note(data.map(({ id }) => id));
        pacer.want();
      }
    });
  });
  request.on('error', () => undefined);
  desk.close = () => {
    closed = true;
    request.destroy();
    pacer.close();
  };
  return desk;
}

/** Check-ins, so many a second, each of which turns a watch round; how long the slowest took. */
async function turnRound(addresses: readonly string[], aSecond: number, forMs: number): Promise<number> {
  const took: Promise<number>[] = [];
  const began = performance.now();
  for (let sent = 0; performance.now() - began < forMs;) {
    const due = Math.floor(((performance.now() - began) / 1000) * aSecond);
    for (; sent < due; sent += 1) {
      const is = Math.floor(sent / addresses.length) % 2 === 0 ? 'failed' : 'done';
      const at = performance.now();
      took.push(
        fetch(`${addresses[sent % addresses.length]!}?is=${is}`, { method: 'POST' }).then(async (answer) => {
          await answer.text();
          if (answer.status !== 200) throw new Error(`Expected 200, got ${answer.status}`);
          return performance.now() - at;
        }),
      );
    }
    await new Promise((resolve) => setTimeout(resolve, 5));
  }
  return (await Promise.all(took)).reduce((most, ms) => Math.max(most, ms), 0);
}

/** Eight desks open beside check-ins of which each turns a watch round. */
export async function eightDesks(
  table: BenchTable,
  count: number,
  product: Product,
  cookie: string,
  of: { rows: readonly number[]; addresses: readonly string[] },
): Promise<void> {
  const aSecond = count * CHANGING;
  const rest = await turnRound(of.addresses, aSecond, MEASURE_MS);
  const desks = Array.from({ length: DESKS }, () => openDesk(product, cookie, of.rows.slice(0, ROWS)));
  await new Promise((resolve) => setTimeout(resolve, 1000));
  const slowest = await turnRound(of.addresses, aSecond, MEASURE_MS);
  for (const desk of desks) desk.close();
  const what = `${DESKS} open desks of ${count} watches of which ${aSecond} turn round each second`;
  table.figure(
    `${what}: slowest check-in`,
    `${slowest.toFixed(0)} ms (${rest.toFixed(0)} without)`,
    'under 100 ms',
  );
  const reads = desks.reduce((sum, desk) => sum + desk.reads, 0);
  const bytes = desks.reduce((sum, desk) => sum + desk.bytes, 0);
  table.figure(
    `${what}: each is read anew, slowest, bytes`,
    `${(MEASURE_MS / 1000 / (reads / DESKS)).toFixed(1)} s, ${Math.max(...desks.map((d) => d.slowestMs)).toFixed(0)} ms, ${(bytes / reads / 1000).toFixed(0)} kB`,
    'stated',
  );
}
