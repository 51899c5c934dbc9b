import { parentPort, workerData } from 'node:worker_threads';
import type { Evidence, Finding } from '@/core/causes/finding';
import type { ProbeConfig } from '@/core/settings/watch-config';
import { lookupWith, parseHosts } from '@/probes/transport/lookup';
import { openVault } from '@/store/db/vault';
import { runLook } from './look-runner';

/** What a thread is started with. */
export interface LookThreadData {
  dataFolder: string;
  /** Names given by hand, as in LANTERN_HOSTS. */
  hosts: string;
}

/** A watch as it is to be looked at from now on. */
export interface LookedAt {
  id: number;
  kind: string;
  config: ProbeConfig;
}

/** One turn of the engine: what is gone, then what is new or changed, then the looks to carry out; none asks for a sign of life. */
export interface LookAsk {
  watches: LookedAt[];
  gone: number[];
  looks: { look: number; id: number; before?: Evidence }[];
}

/** The findings of some looks; an empty one says that the thread is ready, and that it lives. */
export type LookAnswer = { look: number; finding: Finding }[];

/** Carries out looks apart from the thread that decides and writes: connecting and reading is most of their work. */
function work(port: NonNullable<typeof parentPort>, { dataFolder, hosts }: LookThreadData): void {
  const watches = new Map<number, LookedAt>();
  const options = {
    now: () => Date.now(),
    monotonic: () => performance.now(),
    lookup: lookupWith(parseHosts(hosts)),
    vault: openVault(dataFolder),
    signal: new AbortController().signal,
    other: () => null,
  };
  let ready: LookAnswer = [];
  const answer = (one: LookAnswer[number]) => {
    // One message for all that ends in the same turn.
    if (ready.length === 0) {
      setImmediate(() => {
        port.postMessage(ready);
        ready = [];
      });
    }
    ready.push(one);
  };
  port.on('message', (ask: LookAsk) => {
    for (const id of ask.gone) watches.delete(id);
    for (const watch of ask.watches) watches.set(watch.id, watch);
    if (ask.looks.length === 0) port.postMessage([] satisfies LookAnswer);
    for (const { look, id, before } of ask.looks) {
      const { kind, config } = watches.get(id)!;
      void runLook(kind, config, options, before).then((finding) => answer({ look, finding }));
    }
  });
  port.postMessage([] satisfies LookAnswer);
}

if (parentPort) work(parentPort, workerData as LookThreadData);
