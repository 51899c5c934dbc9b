import { join } from 'node:path';
import { parentPort, workerData } from 'node:worker_threads';
import { SiteAssets } from '@/server/site/assets';
import type { Drawn } from '@/server/site/copying/copies';
import { drawHere, type Draw, type DrawAsk } from '@/server/site/drawing';
import { PageLooks } from '@/server/site/looks';
import { openLetters } from '@/site/pictures/letters';
import { openStore } from '@/store/db/open';

export interface DrawWorkerData {
  folder: string;
  zone: string;
  baseUrl: string | null;
}

/** `drawn` is null where the page has no such thing. */
export type DrawAnswer = { drawn: Drawn | null } | { problem: string };

async function prepare({ folder, zone, baseUrl }: DrawWorkerData): Promise<Draw> {
  const db = await openStore(folder, { migrate: false });
  const assets = new SiteAssets(join(import.meta.dirname, 'site'));
  const looks = new PageLooks();
  const letters = openLetters(join(import.meta.dirname, 'letters'));
  return drawHere({
    ...{ db, now: () => Date.now(), zone, baseUrl, letters },
    ...{ assets: assets.nameOf, lookFile: looks.fileOf },
  });
}

let ready: Promise<Draw> | null = null;

/** Draws public pages apart from the thread that hears check-ins: a page of thousands of lines takes seconds. */
parentPort?.on('message', (ask: DrawAsk) => {
  ready ??= prepare(workerData as DrawWorkerData);
  void ready
    .then((draw) => draw(ask))
    .then(
      (drawn): DrawAnswer => ({ drawn }),
      (error: unknown): DrawAnswer => ({ problem: (error as Error).message }),
    )
    .then((answer) => parentPort!.postMessage(answer));
});
