import { EventEmitter } from 'node:events';
import { mkdirSync } from 'node:fs';
import type { Socket } from 'node:net';
import { join } from 'node:path';
import { linkBase, readEnvironment } from '@/core/settings/environment';
import { ownTroubleText } from '@/core/causes/own-trouble';
import type { EngineNews } from '@/engine/link/protocol';
import { sealChannelSettings } from '@/store/messages/channels';
import { defaultsOfKinds, shippedForKinds } from '@/probes/kinds/registry';
import { saveShipped } from '@/store/watches/cascade';
import { openStore } from '@/store/db/open';
import { saveOpening, savePulse } from '@/store/history/intake-gaps';
import { fetchOpenOwnTroubles } from '@/store/history/own-troubles';
import { hasAccounts } from '@/store/access/accounts';
import { checkDataFolder, takeDataFolder } from '@/store/db/preflight';
import { isKeyLost, openVault, prepareKeys } from '@/store/db/vault';
import { fetchMailEndpoint } from '@/store/messages/mail-endpoint';
import { ReportIntake } from '@/server/checkins/report-intake';
import { MailEndpoint } from '@/server/checkins/mail-endpoint';
import { bounceDesk } from '@/server/checkins/bounce-desk';
import { MailReader } from '@/server/checkins/mail-reader';
import { wrapperFor } from '@/server/checkins/wrapper';
import { takeAnswer } from '@/cases/messages/room-answers';
import { keepKnownAddresses } from '@/cases/messages/consent';
import { jobAt, makeFirstContact } from '@/cases/jobs/first-contact';
import { serverContext, setServerContext } from './context';
import { Guard } from '@/server/access/guard';
import { IntakeHeartbeat } from '@/server/checkins/intake-heartbeat';
import { newFirstCode, prepareFirstStart } from '@/server/access/first-start';
import { FailingNote } from '@/server/desk/failing-note';
import { saveDeskFailing } from '@/store/history/desk-failing';
import { DeskProxy } from '@/server/desk/proxy';
import { DeskSupervisor } from '@/server/desk/supervisor';
import { doorHandlers } from '@/server/desk/handlers';
import { ownPorts } from '@/server/base/own-ports';
import { EngineSupervisor } from './engine-supervisor';
import { createFrontDoor } from './front-door';
import type { WaitingEngine } from './waiting-engine';
import { Arrivals } from '@/server/site/arrivals';
import { openSite } from '@/server/site/open-site';
import { Previews } from '@/server/site/previews';
import { log, logError } from '@/server/base/log';
import { ProxyTrust } from '@/server/access/proxy';

/** So many may knock at once, at the full hour; whoever finds no room tries again only seconds later. */
const MOST_KNOCKING = 4096;
const PULSE_MS = 2_000;
const COMPLAIN_MS = 60_000;
const CLOSE_GRACE_MS = 5_000;
const READY_LIMIT_MS = 2_000;
const LONGEST_OPENING_MS = 60_000;

function portTaken(port: number): string {
  return `Expected port ${port} to be free, but something listens there already. Stop it, or choose another with PORT.`;
}

/** Whoever works on the pages has them drawn from their sources, and reloaded as they are saved. */
const IN_THE_MAKING = process.env.NODE_ENV === 'development';
/** What the framework needs for that, besides the pages. */
const FOR_THE_MAKING = /^\/(_next|__nextjs)/;

/** Opens the front door: hears, keeps, and has the other parts started. `waiting` is an engine that was begun early. */
async function open(waiting: WaitingEngine): Promise<void> {
  const environment = readEnvironment(process.env);
  const trust = new ProxyTrust(environment.trustedProxies);
  const now = () => Date.now();
  const { dataFolder } = environment;
  checkDataFolder(dataFolder);
  mkdirSync(dataFolder, { recursive: true, mode: 0o700 });
  const hold = takeDataFolder(dataFolder);
  const db = await openStore(dataFolder, { say: log });
  await prepareKeys(db, dataFolder);
  const vault = openVault(dataFolder);
  if (await isKeyLost(db, vault))
    log(`${ownTroubleText('key.lost', { file: join(dataFolder, 'secrets.key') }).sentence}`);
  await sealChannelSettings(db, vault);
  await keepKnownAddresses(db, vault, now());
  await saveShipped(db, shippedForKinds(), defaultsOfKinds());
  await prepareFirstStart(db, environment, now());

  const hub = new EventEmitter();
  hub.setMaxListeners(50);
  const supervisor = new EngineSupervisor({
    waiting,
    dataFolder: environment.dataFolder,
    say: log,
    onNews: (news: EngineNews) => {
      if (news.watches.length > 0) hub.emit('watches', news.watches);
      if (news.deliveries) hub.emit('deliveries');
      for (const notice of news.notices ?? []) hub.emit('notice', notice);
      for (const answer of news.answers ?? [])
        takeAnswer(answer, serverContext()).catch((error: unknown) => logError('an answer in a room', error));
    },
  });
  const intake = new ReportIntake({
    db,
    now,
    onCommitted: () => void supervisor.tellInbox(),
    makeFirstContact: (section, name, client) =>
      makeFirstContact(jobAt(client), { section, name }, serverContext()),
  });
  const mailReader = new MailReader(join(import.meta.dirname, 'mail-worker.js'));
  const own = ownPorts(environment, import.meta.dirname);
  const mailEndpoint = new MailEndpoint({
    intake,
    reader: mailReader,
    host: environment.host,
    now,
    onSeen: () => hub.emit('mails'),
    bounces: bounceDesk(serverContext),
  });
  const monotonic = () => performance.now();
  const previews = new Previews(monotonic);
  const arrivals = new Arrivals();
  const firstCode = newFirstCode();
  setServerContext({
    ...own.ports,
    ...{ db, firstCode, vault, environment, mailEndpoint, previews, arrivals, hub },
    engine: supervisor.link,
    forgetKeys: () => intake.forgetKeys(),
    onError: (error) => logError('telling of a change', error),
  });

  const desk = new DeskSupervisor({
    script: join(import.meta.dirname, 'desk.js'),
    dataFolder,
    heapMb: environment.deskMemory,
    firstCode,
    handlers: doorHandlers(serverContext(), hub),
    say: log,
  });
  const proxy = new DeskProxy(desk);
  const {
    publicSite,
    live,
    close: closeSite,
  } = openSite({
    ...{ db, vault, hub, environment, previews, arrivals, now, monotonic },
    world: serverContext,
    folder: import.meta.dirname,
  });

  let complainedAt = -Infinity;
  const hearing = new IntakeHeartbeat({
    db,
    now,
    intake,
    onGap: () => void supervisor.tellInbox(),
    onError: (error) => {
      // Tried again every two seconds; said once a minute.
      if (performance.now() - complainedAt < COMPLAIN_MS) return;
      complainedAt = performance.now();
      logError('nothing can be kept', error);
    },
  });
  const server = createFrontDoor({
    trust,
    guard: new Guard(db, environment, now, IN_THE_MAKING ? FOR_THE_MAKING : null),
    withPolicy: !IN_THE_MAKING,
    encrypted: environment.baseUrl?.startsWith('https:') ?? false,
    intake,
    live,
    wrapper: wrapperFor(environment),
    pages: (request, response) => proxy.pass(request, response),
    publicSite,
    unreadiness: async () => {
      try {
        await db.raw('SELECT 1');
        const own = await fetchOpenOwnTroubles(db);
        const full = own.find((trouble) => trouble.code === 'disk.full');
        if (full) return ownTroubleText('disk.full', full.detail).sentence;
      } catch {
        return 'The database does not answer.';
      }
      if (!hearing.canKeep) return 'Check-ins cannot be kept: the database takes nothing in.';
      if (!(await supervisor.isAnswering(READY_LIMIT_MS))) return 'The engine does not answer.';
      return desk.socket === null ? 'The desk does not answer: there are no pages and no API.' : null;
    },
  });
  if (IN_THE_MAKING)
    server.on('upgrade', (request, socket: Socket, head) => proxy.upgrade(request, socket, head));
  await new Promise<void>((resolve, reject) => {
    server.once('error', (error: NodeJS.ErrnoException) =>
      reject(error.code === 'EADDRINUSE' ? new Error(portTaken(environment.port)) : error),
    );
    const { port, host } = environment;
    server.listen({ port, host, backlog: MOST_KNOCKING }, resolve);
  });
  await mailEndpoint.openFirst(await fetchMailEndpoint(db));
  if (mailEndpoint.problem) log(`mail is not taken in. ${mailEndpoint.problem}`);
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
    live.close();
    const closed = new Promise<void>((resolve) => server.close(() => resolve()));
    server.closeIdleConnections();
    const limit = setTimeout(() => server.closeAllConnections(), CLOSE_GRACE_MS);
    await closed;
    await mailEndpoint.shut();
    await mailReader.close();
    await own.close();
    await closeSite();
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
    log(`there is no account yet; made from another machine, the first one asks for this code: ${firstCode}`);
  }
}

export function openDoor(waiting: WaitingEngine): void {
  open(waiting).catch((error: unknown) => {
    log(`could not start. ${error instanceof Error ? error.message : String(error)}`);
    process.exit(1);
  });
}
