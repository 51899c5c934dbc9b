import { parentPort } from 'node:worker_threads';
import type { RoutesAsk, WatchAsk, WatchTried } from '@/cases/frame/world';
import { compareLives, relive } from '@/core/lifecycle/relive';
import { replay, type Replayed } from '@/core/telling/ahead/replay';
import { USUAL_FOLDING } from '@/core/telling/telling';
import { sharedFacts } from '@/probes/diagnosis/trouble-facts';
import type { Db } from '@/store/db/connection';
import { openStore } from '@/store/db/open';
import { fetchWatchPast } from '@/store/history/watch-past';
import { fetchPast } from '@/store/messages/past';
import { fetchWatches } from '@/store/watches/watches';

export type PastAsk = { folder: string } & ({ routes: RoutesAsk } | { watch: WatchAsk });

export type PastAnswer = { tried: Replayed[] } | { watch: WatchTried } | { problem: string };

async function tryRoutes(db: Db, { channels, tries, ...span }: RoutesAsk): Promise<Replayed[]> {
  const watches = new Map((await fetchWatches(db)).map((watch) => [watch.id, watch]));
  const past = await fetchPast(db, span, (id, seen) => {
    const watch = watches.get(id);
    return watch ? sharedFacts(watch, seen, seen) : null;
  });
  const setup = { channels: new Set(channels), folding: USUAL_FOLDING };
  return tries.map((routes) => replay(past, { routes, ...setup }));
}

async function tryWatch(db: Db, { now, then, ...of }: WatchAsk): Promise<WatchTried> {
  const past = await fetchWatchPast(db, { ...of, type: now.type });
  return { ...compareLives(relive(past, now), relive(past, then)), from: past.from };
}

async function answerTo({ folder, ...ask }: PastAsk): Promise<PastAnswer> {
  const db = await openStore(folder, { migrate: false });
  try {
    return 'watch' in ask
      ? { watch: await tryWatch(db, ask.watch) }
      : { tried: await tryRoutes(db, ask.routes) };
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
