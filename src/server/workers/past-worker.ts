import { parentPort } from 'node:worker_threads';
import { replay, type Replayed } from '@/core/telling/ahead/replay';
import type { Route } from '@/core/telling/route';
import { USUAL_FOLDING } from '@/core/telling/telling';
import { openStore } from '@/store/db/connection';
import { fetchPast } from '@/store/messages/past';

export interface PastAsk {
  folder: string;
  since: number;
  until: number;
  zone: string;
  /** Channels that take messages. */
  channels: number[];
  /** Sets of routes, each of which is tried on the same past. */
  tries: Route[][];
}

export type PastAnswer = { tried: Replayed[] } | { problem: string };

async function answerTo({ folder, channels, tries, ...span }: PastAsk): Promise<PastAnswer> {
  const db = await openStore(folder, { migrate: false });
  try {
    const past = await fetchPast(db, span);
    const setup = { channels: new Set(channels), folding: USUAL_FOLDING };
    return { tried: tries.map((routes) => replay(past, { routes, ...setup })) };
  } finally {
    await db.destroy();
  }
}

/** Goes through what was, apart from the process that hears check-ins. */
parentPort?.on('message', (ask: PastAsk) => {
  void answerTo(ask)
    .catch((error: unknown): PastAnswer => ({ problem: (error as Error).message }))
    .then((answer) => parentPort!.postMessage(answer));
});
