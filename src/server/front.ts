import { EventEmitter } from 'node:events';
import type { Server } from 'node:http';
import { join } from 'node:path';
import type { Knex } from 'knex';
import type { Environment } from '@/core/settings/environment';
import { ownTroubleText } from '@/core/causes/own-trouble';
import type { EngineNews } from '@/engine/link/protocol';
import { sealChannelSettings } from '@/store/messages/channels';
import { defaultsOfKinds, shippedForKinds } from '@/probes/kinds/registry';
import { saveShipped } from '@/store/watches/cascade';
import { fetchMailEndpoint } from '@/store/messages/mail-endpoint';
import { fetchOpenOwnTroubles } from '@/store/history/own-troubles';
import { isKeyLost, openVault, prepareKeys, type Vault } from '@/store/db/vault';
import type { EnginePort } from '@/cases/frame/world';
import { keepKnownAddresses } from '@/cases/messages/consent';
import { takeAnswer } from '@/cases/messages/room-answers';
import { jobAt, makeFirstContact } from '@/cases/jobs/first-contact';
import { newSpokenSecret } from '@/accounts/secrets';
import { prepareFirstStart } from '@/server/access/first-start';
import { Guard } from '@/server/access/guard';
import { ProxyTrust } from '@/server/access/proxy';
import { log, logError } from '@/server/base/log';
import { ownPorts } from '@/server/base/own-ports';
import { bounceDesk } from '@/server/checkins/bounce-desk';
import { IntakeHeartbeat } from '@/server/checkins/intake-heartbeat';
import { MailEndpoint } from '@/server/checkins/mail-endpoint';
import { MailReader } from '@/server/checkins/mail-reader';
import { ReportIntake } from '@/server/checkins/report-intake';
import { wrapperFor } from '@/server/checkins/wrapper';
import { Arrivals } from '@/server/site/arrivals';
import { openSite } from '@/server/site/open-site';
import { Previews } from '@/server/site/previews';
import type { ServerContext } from './context';
import { createFrontDoor, type FrontDoorParts } from './front-door';

const COMPLAIN_MS = 60_000;
/** Parts that hear of changes; more of them would be a leak. */
const MOST_HEARERS = 50;

/** Whoever works on the pages has them drawn from their sources, and reloaded as they are saved. */
export const IN_THE_MAKING = process.env.NODE_ENV === 'development';
/** What the framework needs for that, besides the pages. */
const FOR_THE_MAKING = /^\/(_next|__nextjs)/;

/** What the front door stands on, and what it hands on to others. */
export interface FrontParts {
  environment: Environment;
  db: Knex;
  vault: Vault;
  /** Where what was built stands. */
  folder: string;
  now: () => number;
  engine: EnginePort;
  /** Tells the engine that reports were committed, where it is there. */
  tellInbox: () => unknown;
  pages: FrontDoorParts['pages'];
  /** What of the parts beside it is not there, in a sentence; null where all are. */
  missing: () => Promise<string | null>;
}

/** All that a front door is made of. It does not listen yet. */
export interface Front {
  server: Server;
  hub: EventEmitter;
  context: ServerContext;
  intake: ReportIntake;
  hearing: IntakeHeartbeat;
  onNews: (news: EngineNews) => void;
  /** Takes reports by mail in from here on, where somebody opened that door. */
  openMail: () => Promise<void>;
  /** Lets go of those who hear of changes: their connections would stay. */
  endLive: () => void;
  /** Ends what the front door has for itself, the intake and the server less. */
  close: () => Promise<void>;
}

/** Puts into a database what has to be there before anything else is done with it. */
export async function prepareData(db: Knex, environment: Environment, now: number): Promise<Vault> {
  const { dataFolder } = environment;
  await prepareKeys(db, dataFolder);
  const vault = openVault(dataFolder);
  if (await isKeyLost(db, vault))
    log(`${ownTroubleText('key.lost', { file: join(dataFolder, 'secrets.key') }).sentence}`);
  await sealChannelSettings(db, vault);
  await keepKnownAddresses(db, vault, now);
  await saveShipped(db, shippedForKinds(), defaultsOfKinds());
  await prepareFirstStart(db, environment, now);
  return vault;
}

/** Puts the front door together: check-ins, health, live events and public pages, with what use cases are given. */
export function makeFront(parts: FrontParts): Front {
  const { environment, db, vault, folder, now, engine, tellInbox, pages, missing } = parts;
  const hub = new EventEmitter();
  hub.setMaxListeners(MOST_HEARERS);
  const monotonic = () => performance.now();
  const own = ownPorts(environment, folder);
  const intake = new ReportIntake({
    db,
    now,
    onCommitted: () => void tellInbox(),
    makeFirstContact: (section, name, client) => makeFirstContact(jobAt(client), { section, name }, context),
  });
  const mailReader = new MailReader(join(folder, 'mail-worker.js'));
  const mailEndpoint = new MailEndpoint({
    intake,
    reader: mailReader,
    host: environment.host,
    now,
    onSeen: () => hub.emit('mails'),
    bounces: bounceDesk(() => context),
  });
  const previews = new Previews(monotonic);
  const arrivals = new Arrivals();
  const context: ServerContext = {
    ...own.ports,
    ...{ db, vault, environment, mailEndpoint, previews, arrivals, hub, engine },
    // What whoever makes the first account from elsewhere has to type.
    firstCode: newSpokenSecret(),
    forgetKeys: () => intake.forgetKeys(),
    onError: (error) => logError('telling of a change', error),
  };
  const site = openSite({
    ...{ db, vault, hub, environment, previews, arrivals, now, monotonic, folder },
    world: () => context,
  });
  let complainedAt = -Infinity;
  const hearing = new IntakeHeartbeat({
    db,
    now,
    intake,
    onGap: () => void tellInbox(),
    onError: (error) => {
      // Tried again every two seconds; said once a minute.
      if (performance.now() - complainedAt < COMPLAIN_MS) return;
      complainedAt = performance.now();
      logError('nothing can be kept', error);
    },
  });
  const server = createFrontDoor({
    trust: new ProxyTrust(environment.trustedProxies),
    guard: new Guard(db, environment, now, IN_THE_MAKING ? FOR_THE_MAKING : null),
    withPolicy: !IN_THE_MAKING,
    encrypted: environment.baseUrl?.startsWith('https:') ?? false,
    intake,
    live: site.live,
    wrapper: wrapperFor(environment, folder),
    pages,
    publicSite: site.publicSite,
    unreadiness: async () => {
      try {
        await db.raw('SELECT 1');
        const troubles = await fetchOpenOwnTroubles(db);
        const full = troubles.find((trouble) => trouble.code === 'disk.full');
        if (full) return ownTroubleText('disk.full', full.detail).sentence;
      } catch {
        return 'The database does not answer.';
      }
      if (!hearing.canKeep) return 'Check-ins cannot be kept: the database takes nothing in.';
      return missing();
    },
  });
  return {
    ...{ server, hub, context, intake, hearing },
    onNews: (news) => {
      if (news.watches.length > 0) hub.emit('watches', news.watches);
      if (news.deliveries) hub.emit('deliveries');
      for (const notice of news.notices ?? []) hub.emit('notice', notice);
      for (const answer of news.answers ?? [])
        takeAnswer(answer, context).catch((error: unknown) => logError('an answer in a room', error));
    },
    openMail: async () => {
      await mailEndpoint.openFirst(await fetchMailEndpoint(db));
      if (mailEndpoint.problem) log(`mail is not taken in. ${mailEndpoint.problem}`);
    },
    endLive: () => site.live.close(),
    close: async () => {
      await mailEndpoint.shut();
      await mailReader.close();
      await own.close();
      await site.close();
    },
  };
}
