import { mkdirSync } from 'node:fs';
import type { Socket } from 'node:net';
import { join } from 'node:path';
import { linkBase, readEnvironment } from '@/core/settings/environment';
import { openStore } from '@/store/db/open';
import { saveOpening, savePulse } from '@/store/history/intake-gaps';
import { hasAccounts } from '@/store/access/accounts';
import { checkDataFolder, takeDataFolder } from '@/store/db/preflight';
import { saveDeskFailing } from '@/store/history/desk-failing';
import { FailingNote } from '@/server/desk/failing-note';
import { DeskProxy } from '@/server/desk/proxy';
import { DeskSupervisor } from '@/server/desk/supervisor';
import { doorHandlers } from '@/server/desk/handlers';
import { log, logError } from '@/server/base/log';
import { EngineSupervisor } from './engine-supervisor';
import { IN_THE_MAKING, makeFront, prepareData } from './front';
import type { WaitingEngine } from './waiting-engine';

/** So many may knock at once, at the full hour; whoever finds no room tries again only seconds later. */
const MOST_KNOCKING = 4096;
const PULSE_MS = 2_000;
const CLOSE_GRACE_MS = 5_000;
const READY_LIMIT_MS = 2_000;
const LONGEST_OPENING_MS = 60_000;

function portTaken(port: number): string {
  return `Expected port ${port} to be free, but something listens there already. Stop it, or choose another with PORT.`;
}

/** Opens the front door: hears, keeps, and has the other parts started. `waiting` is an engine that was begun early. */
async function open(waiting: WaitingEngine): Promise<void> {
  const environment = readEnvironment(process.env);
  const now = () => Date.now();
  const { dataFolder } = environment;
  const folder = import.meta.dirname;
  checkDataFolder(dataFolder);
  mkdirSync(dataFolder, { recursive: true, mode: 0o700 });
  const hold = takeDataFolder(dataFolder);
  const db = await openStore(dataFolder, { say: log });
  const vault = await prepareData(db, environment, now());

  const supervisor = new EngineSupervisor({
    ...{ waiting, dataFolder, say: log },
    onNews: (news) => front.onNews(news),
  });
  const front = makeFront({
    ...{ environment, db, vault, folder, now },
    engine: supervisor.link,
    tellInbox: () => supervisor.tellInbox(),
    pages: (request, response) => proxy.pass(request, response),
    missing: async () => {
      if (!(await supervisor.isAnswering(READY_LIMIT_MS))) return 'The engine does not answer.';
      return desk.socket === null ? 'The desk does not answer: there are no pages and no API.' : null;
    },
  });
  const desk = new DeskSupervisor({
    script: join(folder, 'desk.js'),
    dataFolder,
    heapMb: environment.deskMemory,
    firstCode: front.context.firstCode,
    handlers: doorHandlers(front.context, front.hub),
    say: log,
  });
  const proxy = new DeskProxy(desk);
  const { server, intake, hearing } = front;
  if (IN_THE_MAKING)
    server.on('upgrade', (request, socket: Socket, head) => proxy.upgrade(request, socket, head));
  await new Promise<void>((resolve, reject) => {
    server.once('error', (error: NodeJS.ErrnoException) =>
      reject(error.code === 'EADDRINUSE' ? new Error(portTaken(environment.port)) : error),
    );
    const { port, host } = environment;
    server.listen({ port, host, backlog: MOST_KNOCKING }, resolve);
  });
  await front.openMail();
  // From here on check-ins are heard; the engine comes after, so that it finds the gap noted.
  await saveOpening(db, now());
  const deskNote = new FailingNote(desk, (failing) => saveDeskFailing(db, failing));
  const pulse = setInterval(() => {
    void hearing.beat();
    void deskNote.tick();
  }, PULSE_MS);
  let stopping = false;
  const stop = async () => {
    if (stopping) return;
    stopping = true;
    log('closing');
    clearInterval(pulse);
    front.endLive();
    const closed = new Promise<void>((resolve) => server.close(() => resolve()));
    server.closeIdleConnections();
    const limit = setTimeout(() => server.closeAllConnections(), CLOSE_GRACE_MS);
    await closed;
    await front.close();
    clearTimeout(limit);
    await desk.stop();
    proxy.close();
    await intake.close();
    await savePulse(db, now()).catch((error: unknown) => logError('the last pulse', error));
    await supervisor.stop();
    await db.destroy();
    hold.release();
    log('closed');
    process.exit(0);
  };
  process.on('SIGINT', () => void stop());
  process.on('SIGTERM', () => void stop());

  // All at once: each is a process of its own, and looks are not to wait for pages.
  await supervisor.wake();
  desk.start();
  await supervisor.start();
  await desk.opened(LONGEST_OPENING_MS);
  log(`open at ${linkBase(environment)}`);
  if (!(await hasAccounts(db))) {
    const { firstCode } = front.context;
    log(`there is no account yet; made from another machine, the first one asks for this code: ${firstCode}`);
  }
}

export function openDoor(waiting: WaitingEngine): void {
  open(waiting).catch((error: unknown) => {
    log(`could not start. ${error instanceof Error ? error.message : String(error)}`);
    process.exit(1);
  });
}
