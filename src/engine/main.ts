import { chmodSync, existsSync, unlinkSync } from 'node:fs';
import { connect, createServer, type Server, type Socket } from 'node:net';
import { availableParallelism } from 'node:os';
import { fileURLToPath } from 'node:url';
import { linkBase, readEnvironment } from '@/core/settings/environment';
import { lookupWith, parseHosts } from '@/probes/transport/lookup';
import { openStore } from '@/store/db/open';
import { openVault } from '@/store/db/vault';
import { Company } from '@/engine/link/company';
import { WAITS } from '@/engine/link/waits';
import { Engine } from './engine';
import {
  attachLines,
  makeEngineSocket,
  notePid,
  type EngineCall,
  type EngineNews,
  type Line,
} from '@/engine/link/protocol';

const BUSY_EXIT_CODE = 3;
/** More threads than this carry out looks only when asked for: each takes some 25 MB. */
const MOST_OWN_THREADS = 2;

function say(text: string): void {
  process.stdout.write(`${new Date().toISOString()} engine: ${text}\n`);
}

function isAnswered(path: string): Promise<boolean> {
  return new Promise((resolve) => {
    const socket = connect(path);
    socket.once('connect', () => {
      socket.destroy();
      resolve(true);
    });
    socket.once('error', () => resolve(false));
  });
}

/** Listens on the engine's socket; there is never more than one engine on a data folder. */
async function listenOnce(server: Server, path: string): Promise<boolean> {
  if (existsSync(path)) {
    if (await isAnswered(path)) return false;
    unlinkSync(path);
  }
  return new Promise((resolve, reject) => {
    server.once('error', (error: NodeJS.ErrnoException) =>
      error.code === 'EADDRINUSE' ? resolve(false) : reject(error),
    );
    server.listen(path, () => {
      chmodSync(path, 0o600);
      resolve(true);
    });
  });
}

async function main(): Promise<void> {
  const environment = readEnvironment(process.env);
  const clients = new Map<Socket, (line: Line) => void>();
  let engine: Engine | null = null;
  const company = new Company(() => performance.now());

  const server = createServer((socket) => {
    const send = attachLines(socket, (line) => void answer(line, send));
    clients.set(socket, send);
    company.comes();
    socket.on('error', () => socket.destroy());
    socket.on('close', () => {
      clients.delete(socket);
      company.leaves();
    });
  });
  async function answer(line: Line, send: (line: Line) => void): Promise<void> {
    if (!('call' in line)) return;
    try {
      if (!engine) throw new Error('The engine is still starting.');
      const handler = engine.handlers[line.call as EngineCall] as (ask: unknown) => Promise<unknown>;
      send({ id: line.id, answer: await handler(line.ask) });
    } catch (error) {
      send({ id: line.id, problem: error instanceof Error ? error.message : String(error) });
    }
  }
  const path = makeEngineSocket(environment.dataFolder);
  if (!(await listenOnce(server, path))) {
    say('another engine already runs on this data folder');
    process.exit(BUSY_EXIT_CODE);
  }
  notePid(environment.dataFolder, 'engine');

  // A power cut may cost the last findings, which new looks make up for; check-ins are the front door's to keep.
  const db = await openStore(environment.dataFolder, { migrate: false, durable: false });
  let stopping = false;
  const stop = async () => {
    if (stopping) return;
    stopping = true;
    await engine?.close();
    server.close();
    for (const socket of clients.keys()) socket.end();
    await db.destroy();
    say('stopped');
    process.exit(0);
  };
  const starting = new Engine(
    {
      db,
      vault: openVault(environment.dataFolder),
      now: () => Date.now(),
      monotonic: () => performance.now(),
      lookup: lookupWith(parseHosts(environment.hosts)),
      zone: environment.zone,
      nearPushes: environment.nearPushes,
      linkBase: linkBase(environment),
      looksAtOnce: environment.looksAtOnce,
      looksPerHost: environment.looksPerHost,
      lookThreads: {
        script: fileURLToPath(new URL('look-thread.js', import.meta.url)),
        threads: environment.lookThreads ?? Math.min(MOST_OWN_THREADS, availableParallelism() - 1),
        data: { dataFolder: environment.dataFolder, hosts: environment.hosts },
      },
      keepFindingsDays: environment.keepFindingsDays,
      scripts: environment.scripts,
      dataFolder: environment.dataFolder,
      onNews: (news: EngineNews) => {
        for (const send of clients.values()) send({ news });
        return clients.size > 0;
      },
      onError: (error) => say(error instanceof Error ? (error.stack ?? error.message) : String(error)),
    },
    () => void stop(),
  );
  process.on('SIGTERM', () => void stop());
  process.on('SIGINT', () => void stop());
  setInterval(() => {
    if (company.isGoneForGood()) void stop();
  }, 5_000).unref();
  await starting.start();
  engine = starting;
  say(`watching (pid ${process.pid})`);
}

/**
 * An engine that was begun early goes on when the front door says so, and ends with it before that. It is the engine that
 * hangs up: a line that is dead when it has been read means that the front door is, and not that it was told.
 */
async function told(): Promise<void> {
  if (!process.argv.includes(WAITS)) return;
  const end = () => process.exit(0);
  if (!process.connected) end();
  await new Promise<void>((resolve) => {
    process.once('disconnect', end);
    process.once('message', () => {
      process.off('disconnect', end);
      // Not while it is being heard: Node goes on with the line after that.
      setImmediate(() => {
        if (process.connected) process.disconnect();
      });
      resolve();
    });
  });
}

told()
  .then(main)
  .catch((error: unknown) => {
    say(error instanceof Error ? (error.stack ?? error.message) : String(error));
    process.exit(1);
  });
