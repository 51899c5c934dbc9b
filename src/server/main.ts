import { EventEmitter } from 'node:events';
import type { IncomingMessage, ServerResponse } from 'node:http';
import { join } from 'node:path';
import { linkBase, readEnvironment, type Environment } from '../core/environment';
import type { EngineNews } from '../engine/protocol';
import { sealChannelSettings } from '../store/channels';
import { shippedForKinds } from '../probes/registry';
import { saveShipped } from '../store/cascade';
import { openStore } from '../store/connection';
import { saveOpening, savePulse } from '../store/ears';
import { fetchPageBySlug } from '../store/pages';
import { openVault } from '../store/vault';
import { fetchMailDoor } from '../store/mail-door';
import { Inbox } from './inbox';
import { MailDoor } from './mail-door';
import { MailReader } from './mail-reader';
import { wrapperFor } from './wrapper';
import { setServerContext } from './context';
import { EngineKeeper } from './engine-keeper';
import { prepareFirstStart } from './first-start';
import { createFrontDoor } from './front-door';
import { LiveDesk } from './live';
import { PageCache } from './page-cache';
import { log, logError } from './log';
import { ProxyTrust } from './proxy';

/** So many may knock at once, at the full hour; whoever finds no room tries again only seconds later. */
const MOST_KNOCKING = 4096;
const PULSE_MS = 2_000;
const CLOSE_GRACE_MS = 5_000;

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
  const db = await openStore(environment.dataFolder);
  const vault = openVault(environment.dataFolder);
  await sealChannelSettings(db, vault);
  await saveShipped(db, shippedForKinds());
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
  const mailDoor = new MailDoor({
    inbox,
    reader: mailReader,
    host: environment.host,
    now,
    onSeen: () => hub.emit('mails'),
  });
  const live = new LiveDesk(db, hub, now);
  setServerContext({
    db,
    engine: keeper.link,
    vault,
    environment,
    mailDoor,
    hub,
    forgetKeys: () => inbox.forgetKeys(),
  });

  // Whoever asks for a page before they are ready waits for them; check-ins do not.
  let pagesAreReady: (handler: PageHandler) => void = () => undefined;
  const pages = new Promise<PageHandler>((resolve) => (pagesAreReady = resolve));
  const handlePage: PageHandler = async (request, response) => (await pages)(request, response);
  const publicPages = new PageCache({
    now,
    pages: handlePage,
    pageOf: (slug) => fetchPageBySlug(db, slug),
    changedAt: (page) => live.changedAtOf(page),
  });

  const server = createFrontDoor({
    trust,
    inbox,
    live,
    wrapper: wrapperFor(environment),
    pages: handlePage,
    publicPages,
    isReady: async () => {
      try {
        await db.raw('SELECT 1');
        await keeper.link.call('ping', {});
        return true;
      } catch {
        return false;
      }
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
  const beat = async () => {
    if (await savePulse(db, now())) void keeper.tellInbox();
  };
  const pulse = setInterval(() => void beat().catch((error) => logError('pulse', error)), PULSE_MS);
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
    clearTimeout(limit);
    await inbox.close();
    await savePulse(db, now());
    await keeper.stop();
    await db.destroy();
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
}

main().catch((error: unknown) => {
  log(`could not start. ${error instanceof Error ? error.message : String(error)}`);
  process.exit(1);
});
