import { EventEmitter } from 'node:events';
import { mkdirSync } from 'node:fs';
import type { IncomingMessage, ServerResponse } from 'node:http';
import { join } from 'node:path';
import { linkBase, readEnvironment, type Environment } from '../core/environment';
import { ownTroubleText } from '../core/own-trouble';
import type { EngineNews } from '../engine/protocol';
import { sealChannelSettings } from '../store/channels';
import { defaultsOfKinds, shippedForKinds } from '../probes/registry';
import { saveShipped } from '../store/cascade';
import { openStore } from '../store/connection';
import { saveOpening, savePulse } from '../store/ears';
import { fetchOpenOwnTroubles } from '../store/own-troubles';
import { hasAccounts } from '../store/accounts';
import { fetchPageBySlug } from '../store/pages';
import { checkDataFolder, takeDataFolder } from '../store/preflight';
import { isKeyLost, openVault, prepareKeys } from '../store/vault';
import { fetchMailDoor } from '../store/mail-door';
import { Inbox } from './inbox';
import { MailDoor } from './mail-door';
import { CalendarReader } from './calendar-reader';
import { MailReader } from './mail-reader';
import { wrapperFor } from './wrapper';
import { setServerContext } from './context';
import { Guard } from './guard';
import { Hearing } from './hearing';
import { newFirstCode, prepareFirstStart } from './first-start';
import { EngineKeeper } from './engine-keeper';
import { createFrontDoor } from './front-door';
import { LiveDesk } from './live';
import { PageCache } from './page-cache';
import { log, logError } from './log';
import { ProxyTrust } from './proxy';

/** So many may knock at once, at the full hour; whoever finds no room tries again only seconds later. */
const MOST_KNOCKING = 4096;
const PULSE_MS = 2_000;
const COMPLAIN_MS = 60_000;
const CLOSE_GRACE_MS = 5_000;
const READY_LIMIT_MS = 2_000;

function portTaken(port: number): string {
  return `Expected port ${port} to be free, but something listens there already. Stop it, or choose another with PORT.`;
}

type PageHandler = (request: IncomingMessage, response: ServerResponse) => Promise<void>;

/** Loads Next and gets the pages ready; both take a while, in which this thread does little else. */
async function preparePages({ host, port }: Environment): Promise<PageHandler> {
  const { default: next } = await import('next');
  const pages = next({ dev: false, dir: join(import.meta.dirname, '..'), hostname: host, port });
  await pages.prepare();
  return pages.getRequestHandler();
}

async function main(): Promise<void> {
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
  await saveShipped(db, shippedForKinds(), defaultsOfKinds());
  await prepareFirstStart(db, environment, now());

  const hub = new EventEmitter();
  hub.setMaxListeners(50);
  const keeper = new EngineKeeper({
    script: join(import.meta.dirname, 'engine.js'),
    dataFolder: environment.dataFolder,
    say: log,
    onNews: (news: EngineNews) => {
      if (news.watches.length > 0) hub.emit('watches', news.watches);
      if (news.deliveries) hub.emit('deliveries');
    },
  });
  const inbox = new Inbox({
    db,
    now,
    zone: environment.zone,
    linkBase: linkBase(environment),
    onCommitted: () => void keeper.tellInbox(),
    onMade: async (watchId) => {
      await keeper.link.call('watchesChanged', { watchIds: [watchId] }).catch(() => undefined);
    },
  });
  const mailReader = new MailReader(join(import.meta.dirname, 'mail-worker.js'));
  const calendars = new CalendarReader(join(import.meta.dirname, 'calendar-worker.js'));
  const mailDoor = new MailDoor({
    inbox,
    reader: mailReader,
    host: environment.host,
    now,
    onSeen: () => hub.emit('mails'),
  });
  const live = new LiveDesk(db, hub, now, () => performance.now());
  const firstCode = newFirstCode();
  setServerContext({
    db,
    firstCode,
    engine: keeper.link,
    vault,
    environment,
    mailDoor,
    calendars,
    hub,
    forgetKeys: () => inbox.forgetKeys(),
  });

  // Whoever asks for a page before they are ready waits for them; check-ins do not.
  let pagesAreReady: (handler: PageHandler) => void = () => undefined;
  const pages = new Promise<PageHandler>((resolve) => (pagesAreReady = resolve));
  const handlePage: PageHandler = async (request, response) => (await pages)(request, response);
  const publicPages = new PageCache({
    now: () => performance.now(),
    pages: handlePage,
    pageOf: (slug) => fetchPageBySlug(db, slug),
    changedAt: (page) => live.changedAtOf(page),
  });

  let complainedAt = -Infinity;
  const hearing = new Hearing({
    db,
    now,
    inbox,
    onGap: () => void keeper.tellInbox(),
    onError: (error) => {
      // Tried again every two seconds; said once a minute.
      if (performance.now() - complainedAt < COMPLAIN_MS) return;
      complainedAt = performance.now();
      logError('nothing can be kept', error);
    },
  });
  const server = createFrontDoor({
    trust,
    guard: new Guard(db, environment, now),
    encrypted: environment.baseUrl?.startsWith('https:') ?? false,
    inbox,
    live,
    wrapper: wrapperFor(environment),
    pages: handlePage,
    publicPages,
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
      return (await keeper.isAnswering(READY_LIMIT_MS)) ? null : 'The engine does not answer.';
    },
  });
  await new Promise<void>((resolve, reject) => {
    server.once('error', (error: NodeJS.ErrnoException) =>
      reject(error.code === 'EADDRINUSE' ? new Error(portTaken(environment.port)) : error),
    );
    const { port, host } = environment;
    server.listen({ port, host, backlog: MOST_KNOCKING }, resolve);
  });
  await mailDoor.openFirst(await fetchMailDoor(db));
  if (mailDoor.problem) log(`mail is not taken in. ${mailDoor.problem}`);
  // From here on check-ins are heard; the engine comes after, so that it finds the gap noted.
  await saveOpening(db, now());
  const pulse = setInterval(() => void hearing.beat(), PULSE_MS);
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
    await mailDoor.shut();
    await mailReader.close();
    await calendars.close();
    clearTimeout(limit);
    await inbox.close();
    await savePulse(db, now()).catch((error: unknown) => logError('the last pulse', error));
    await keeper.stop();
    await db.destroy();
    hold.release();
    log('closed');
    process.exit(0);
  };
  process.on('SIGINT', () => void stop());
  process.on('SIGTERM', () => void stop());

  // Both at once: the engine is a process of its own, and looks are not to wait for pages.
  await keeper.wake();
  const handler = await preparePages(environment).catch(async (error: unknown) => {
    await keeper.stop();
    throw error;
  });
  pagesAreReady(handler);
  await keeper.start();
  log(`open at ${linkBase(environment)}`);
  if (!(await hasAccounts(db))) {
    log(`there is no account yet; made from another machine, the first one asks for this code: ${firstCode}`);
  }
}

main().catch((error: unknown) => {
  log(`could not start. ${error instanceof Error ? error.message : String(error)}`);
  process.exit(1);
});
