import { EventEmitter } from 'node:events';
import { mkdirSync } from 'node:fs';
import type { IncomingMessage, Server, ServerResponse } from 'node:http';
import { join } from 'node:path';
import { linkBase, readEnvironment, type Environment } from '@/core/settings/environment';
import { ownTroubleText } from '@/core/causes/own-trouble';
import type { EngineNews } from '@/engine/link/protocol';
import { sealChannelSettings } from '@/store/messages/channels';
import { lookupWith, parseHosts } from '@/probes/transport/lookup';
import { defaultsOfKinds, shippedForKinds } from '@/probes/kinds/registry';
import { saveShipped } from '@/store/watches/cascade';
import { openStore } from '@/store/db/connection';
import { saveOpening, savePulse } from '@/store/history/intake-gaps';
import { fetchOpenOwnTroubles } from '@/store/history/own-troubles';
import { hasAccounts } from '@/store/access/accounts';
import { checkDataFolder, takeDataFolder } from '@/store/db/preflight';
import { isKeyLost, openVault, prepareKeys } from '@/store/db/vault';
import { fetchMailEndpoint } from '@/store/messages/mail-endpoint';
import { ReportIntake } from '@/server/checkins/report-intake';
import { MailEndpoint } from '@/server/checkins/mail-endpoint';
import { CalendarReader } from '@/server/workers/calendar-reader';
import { PictureReader } from '@/server/workers/picture-reader';
import { PastReader } from '@/server/workers/past-reader';
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
import { EngineSupervisor } from './engine-supervisor';
import { createFrontDoor } from './front-door';
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

function portTaken(port: number): string {
  return `Expected port ${port} to be free, but something listens there already. Stop it, or choose another with PORT.`;
}

type PageHandler = (request: IncomingMessage, response: ServerResponse) => Promise<void>;

/** Whoever works on the pages has them drawn from their sources, and reloaded as they are saved. */
const IN_THE_MAKING = process.env.NODE_ENV === 'development';
/** What the framework needs for that, besides the pages. */
const FOR_THE_MAKING = /^\/(_next|__nextjs)/;

/** Loads Next and gets the pages ready; both take a while, in which this thread does little else. */
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
  await keepKnownAddresses(db, vault, now());
  await saveShipped(db, shippedForKinds(), defaultsOfKinds());
  await prepareFirstStart(db, environment, now());

  const hub = new EventEmitter();
  hub.setMaxListeners(50);
  const supervisor = new EngineSupervisor({
    script: join(import.meta.dirname, 'engine.js'),
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
  const calendars = new CalendarReader(join(import.meta.dirname, 'calendar-worker.js'));
  const pictures = new PictureReader(join(import.meta.dirname, 'picture-worker.js'));
  const past = new PastReader(join(import.meta.dirname, 'past-worker.js'), environment.dataFolder);
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
    db,
    firstCode,
    engine: supervisor.link,
    vault,
    place: { linkBase: linkBase(environment), zone: environment.zone },
    environment,
    mailEndpoint,
    calendars,
    past,
    previews,
    nearPushes: environment.nearPushes,
    pictures,
    arrivals,
    lookup: lookupWith(parseHosts(environment.hosts)),
    hub,
    now,
    forgetKeys: () => intake.forgetKeys(),
    onError: (error) => logError('telling of a change', error),
  });

  // Whoever asks for a page before they are ready waits for them; check-ins do not.
  let pagesAreReady: (handler: PageHandler) => void = () => undefined;
  const pages = new Promise<PageHandler>((resolve) => (pagesAreReady = resolve));
  const handlePage: PageHandler = async (request, response) => (await pages)(request, response);
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
    pages: handlePage,
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
      return (await supervisor.isAnswering(READY_LIMIT_MS)) ? null : 'The engine does not answer.';
    },
  });
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
    await mailEndpoint.shut();
    await mailReader.close();
    await calendars.close();
    await past.close();
    await pictures.close();
    await closeSite();
    clearTimeout(limit);
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

  // Both at once: the engine is a process of its own, and looks are not to wait for pages.
  await supervisor.wake();
  const handler = await preparePages(environment, server).catch(async (error: unknown) => {
    await supervisor.stop();
    throw error;
  });
  pagesAreReady(handler);
  await supervisor.start();
  log(`open at ${linkBase(environment)}`);
  if (!(await hasAccounts(db))) {
    log(`there is no account yet; made from another machine, the first one asks for this code: ${firstCode}`);
  }
}

main().catch((error: unknown) => {
  log(`could not start. ${error instanceof Error ? error.message : String(error)}`);
  process.exit(1);
});
