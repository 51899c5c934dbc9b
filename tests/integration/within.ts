import type { IncomingMessage, ServerResponse } from 'node:http';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import { buffer } from 'node:stream/consumers';
import { pipeline } from 'node:stream/promises';
import { answerApi } from '@/api/answer-api';
import type { EnginePort } from '@/cases/frame/world';
import { linkBase, readEnvironment } from '@/core/settings/environment';
import type { Engine } from '@/engine/engine';
import { lookupWith, parseHosts } from '@/probes/transport/lookup';
import { makeFront, prepareData, type Front } from '@/server/front';
import type { ServerContext } from '@/server/context';
import { openStore } from '@/store/db/open';
import { saveOpening } from '@/store/history/intake-gaps';
import { engineOn } from './engine-on';
import { apiOf, freePort, preparedFolder, ROOT, startProduct, TOKEN, type Product } from './helpers';
import { around } from './with-product';

/** A product whose parts all live in the process of the test: all but the pages of its desk. */
export type Within = Pick<Product, 'base' | 'port' | 'folder' | 'api' | 'stop'>;

/** How often it is noted that check-ins are heard. */
const PULSE_MS = 2_000;

/** What the framework makes of a request that came in, for what answers the API. */
async function requestOf(incoming: IncomingMessage): Promise<Request> {
  const { method = 'GET', url = '/', headers } = incoming;
  const hasBody = method !== 'GET' && method !== 'HEAD';
  return new Request(new URL(url, `http://${headers.host}`), {
    method,
    headers: Object.entries(headers).flatMap(([name, value]): [string, string][] =>
      [value ?? []].flat().map((one) => [name, one]),
    ),
    // Read to its end whatever is answered: the connection goes on.
    ...(hasBody && { body: await buffer(incoming) }),
  });
}

async function answerOver(
  incoming: IncomingMessage,
  response: ServerResponse,
  context: ServerContext,
): Promise<void> {
  const request = await requestOf(incoming);
  const [, place, ...parts] = new URL(request.url).pathname.split('/').map(decodeURIComponent);
  if (place !== 'api') throw new Error(`There are no pages here: ${request.url}`);
  const answer = await answerApi(request, parts, context);
  for (const [name, value] of answer.headers) response.appendHeader(name, value);
  response.writeHead(answer.status);
  if (!answer.body) response.end();
  else await pipeline(Readable.fromWeb(answer.body as never), response);
}

/** What goes from one process to another is copied, and a failure is told by its words alone. */
const copied = <T>(value: T): T => JSON.parse(JSON.stringify(value)) as T;

function portOf({ handlers }: Engine): EnginePort {
  return {
    isConnected: () => true,
    call: async (call, ask) => {
      try {
        const handle = handlers[call] as (ask: unknown) => Promise<unknown>;
        return copied(await handle(copied(ask))) as never;
      } catch (error) {
        throw new Error(error instanceof Error ? error.message : String(error), { cause: error });
      }
    },
  };
}

/** Puts a product together in this process, on a data folder of its own or one from before, and opens its front door. */
export async function startWithin(env: Record<string, string> = {}, from?: string): Promise<Within> {
  const folder = from ?? (await preparedFolder());
  // A connection that was kept to the one before it would be asked first.
  const port = await freePort();
  const environment = readEnvironment({
    PORT: String(port),
    LANTERN_DATA: folder,
    LANTERN_API_TOKEN: TOKEN,
    LANTERN_ZONE: 'UTC',
    ...env,
  });
  const now = () => Date.now();
  const mask = process.umask();
  const db = await openStore(folder);
  const vault = await prepareData(db, environment, now());
  /** What is still under way then finds no database; a process of its own would have ended. */
  let hasEnded = false;
  const ownDb = await openStore(folder, { migrate: false, durable: false });
  // Whoever starts a product beside it keeps the mask that is theirs.
  process.umask(mask);
  const fail = (error: unknown) => {
    if (!hasEnded) throw error;
  };
  const engine = engineOn(
    { db: ownDb, folder },
    {
      ...{ vault, zone: environment.zone, dataFolder: folder, linkBase: linkBase(environment) },
      lookup: lookupWith(parseHosts(environment.hosts)),
      nearPushes: environment.nearPushes,
      looksAtOnce: environment.looksAtOnce,
      looksPerHost: environment.looksPerHost,
      keepFindingsDays: environment.keepFindingsDays,
      scripts: environment.scripts,
      onNews: (news) => {
        front.onNews(copied(news));
        return true;
      },
      onError: fail,
    },
  );
  const link = portOf(engine);
  const front: Front = makeFront({
    ...{ environment, db, vault, now, engine: link },
    folder: join(ROOT, 'dist'),
    tellInbox: () => link.call('inbox', {}).catch(fail),
    pages: (request, response) => answerOver(request, response, front.context),
    missing: () => Promise.resolve(null),
  });
  await new Promise<void>((resolve) => front.server.listen({ port, host: '127.0.0.1' }, resolve));
  await front.openMail();
  await saveOpening(db, now());
  const pulse = setInterval(() => void front.hearing.beat(), PULSE_MS);
  await engine.start();
  const base = `http://127.0.0.1:${port}`;
  const end = async () => {
    clearInterval(pulse);
    front.endLive();
    const closed = new Promise((resolve) => front.server.close(resolve));
    front.server.closeAllConnections();
    await closed;
    await front.close();
    await front.intake.close();
    await engine.close();
    hasEnded = true;
    await ownDb.destroy();
    await db.destroy();
    return 0;
  };
  let ended: Promise<number> | null = null;
  const stop = () => (ended ??= end());
  return { ...{ base, port, folder, stop }, api: apiOf(base) };
}

/** Where code is changed on purpose there are no pages of the desk: they are built. */
export const HAS_PAGES = process.env['MUTANT_TESTS'] === undefined;

/**
 * A product as it is shipped; where code is changed on purpose, one in this process: what was built would not be the
 * code that was changed.
 */
function startEither(env: Record<string, string> = {}): Promise<Within> {
  return HAS_PAGES ? startProduct({ env }) : startWithin(env);
}

/** One in this process for the tests of a group. */
export function withinProcess(take: (product: Within) => void, env?: Record<string, string>): void {
  around(take, () => startWithin(env));
}

/** The same as it is shipped, where no code is changed on purpose. */
export function withEither(take: (product: Within) => void): void {
  around(take, startEither);
}
