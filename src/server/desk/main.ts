import { chmodSync } from 'node:fs';
import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http';
import { join } from 'node:path';
import { readEnvironment, type Environment } from '@/core/settings/environment';
import { notePid } from '@/engine/link/protocol';
import { openStore } from '@/store/db/open';
import { openVault } from '@/store/db/vault';
import { ownPorts } from '@/server/base/own-ports';
import { log, logError, speakAs } from '@/server/base/log';
import { setServerContext } from '@/server/context';
import { DoorLink } from './door-link';
import type { FromDesk, ToDesk } from './protocol';

type PageHandler = (request: IncomingMessage, response: ServerResponse) => Promise<void>;

const IN_THE_MAKING = process.env.NODE_ENV === 'development';
const MB = 1024 * 1024;

/** Loads Next and gets the pages ready. */
async function preparePages({ host, port }: Environment, httpServer: Server): Promise<PageHandler> {
  const { default: next } = await import('next');
  const pages = next({
    dev: IN_THE_MAKING,
    dir: join(import.meta.dirname, '..'),
    hostname: host,
    port,
    ...(IN_THE_MAKING && { httpServer }),
  });
  await pages.prepare();
  return pages.getRequestHandler();
}

/** The desk: a process that draws pages and answers the API, for the front door that started it. */
async function main({ socket, firstCode }: ToDesk & { type: 'begin' }, door: DoorLink): Promise<void> {
  const environment = readEnvironment(process.env);
  const { dataFolder } = environment;
  notePid(dataFolder, 'desk');
  const db = await openStore(dataFolder, { migrate: false });
  const { ports, close } = ownPorts(environment, import.meta.dirname);
  setServerContext({
    ...ports,
    ...door.ports,
    ...{ db, firstCode, environment },
    vault: openVault(dataFolder),
    onError: (error) => logError('telling of a change', error),
  });
  let handlePage: PageHandler | null = null;
  // Who comes in was let in by the front door, which bounds how long that may take; its connections stay.
  const limits = { requestTimeout: 0, headersTimeout: 0, keepAliveTimeout: 0, maxHeaderSize: 64 * 1024 };
  const server = createServer(limits, (request, response) => {
    handlePage!(request, response).catch((error: unknown) => {
      logError(`${request.method} ${request.url?.split('?', 1)[0]}`, error);
      response.destroy();
    });
  });
  handlePage = await preparePages(environment, server);
  await new Promise<void>((resolve, reject) => {
    server.once('error', reject);
    server.listen(socket, resolve);
  });
  chmodSync(socket, 0o600);
  let stopping = false;
  process.on('message', (line: ToDesk) => {
    if (line.type !== 'stop' || stopping) return;
    stopping = true;
    server.close(() => {
      void close()
        .then(() => db.destroy())
        .finally(() => process.exit(0));
    });
    server.closeIdleConnections();
  });
  tell({ type: 'open' });
  log('open');
}

function tell(line: FromDesk): void {
  if (process.connected) process.send!(line, undefined, undefined, () => undefined);
}

speakAs('desk');
const door = new DoorLink(tell);
// Without its front door it is nobody's.
process.once('disconnect', () => process.exit(0));
process.on('message', (line: ToDesk) => {
  if (line.type === 'ping') tell({ type: 'pong', memoryMb: process.memoryUsage.rss() / MB });
  else if (line.type === 'begin') {
    main(line, door).catch((error: unknown) => {
      log(`could not start. ${error instanceof Error ? (error.stack ?? error.message) : String(error)}`);
      process.exit(1);
    });
  } else door.take(line);
});
