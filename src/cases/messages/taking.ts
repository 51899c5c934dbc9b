import { string } from 'yup';
import { threadOf } from '@/core/telling/happen';
import type { Thread } from '@/core/telling/telling';
import { actorOf, type Principal } from '@/cases/frame/principal';
import type { World } from '@/cases/frame/world';
import { Refusal } from '@/cases/frame/refusal';
import { asIs, asks, changes, type Act } from '@/cases/frame/use-case';
import { validateBody } from '@/cases/frame/validate';
import { momentOrNone, readMoment, strictObject } from '@/cases/schemas/common';
import { foundWatch } from '@/cases/watches/around';
import type { Db } from '@/store/db/connection';
import { saveTaking } from '@/store/messages/happenings';
import { fetchThread } from '@/store/messages/telling';
import { ensureTakeKey, readTakeLink } from '@/store/messages/take-links';
import { fetchWatch, type WatchWithStatus } from '@/store/watches/watches';

export const takeSchema = strictObject({
  by: string()
    .trim()
    .max(60, 'Expected a name of at most 60 characters.')
    .default('')
    .meta({ description: 'Who has it, where that is not who asks.' }),
  until: momentOrNone('an end').meta({
    description: 'Until when; left out, until it is over or given back.',
    format: 'date-time',
  }),
});

/** What is told of a watch, and who has it. */
export interface Conversation {
  open: boolean;
  heard: number[];
  taken: { by: string; at: number; until: number | null } | null;
}

function conversationOf(thread: Thread | null): Conversation {
  const heard = Object.entries(thread?.heard ?? {}).filter(([, { how }]) => how === 'said');
  return {
    open: Boolean(thread?.open),
    heard: heard.map(([id]) => Number(id)),
    taken: thread?.open ? thread.taken : null,
  };
}

async function told(db: Db, watch: WatchWithStatus): Promise<Thread> {
  const thread = await fetchThread(db, threadOf(watch.id));
  if (thread?.open) return thread;
  throw new Refusal('watch.not-told', `Nothing that is open is told of “${watch.name}”.`);
}

/** Notes which watch it is about, and has what follows told; who takes it does not wait for that. */
export function touched(
  { about, afterwards, world }: Act,
  { id, name }: Pick<WatchWithStatus, 'id' | 'name'>,
): void {
  about({ kind: 'watch', id, name });
  afterwards(() => world.engine.call('routesChanged', {}).catch(() => undefined));
}

export const getConversation = asks(
  'getConversation',
  'look',
  async ({ db }, { id }: { id: number }): Promise<Conversation> => {
    const watch = await foundWatch(db, id);
    return conversationOf(await fetchThread(db, threadOf(watch.id)));
  },
);

export const takeWatch = changes(
  'takeWatch',
  'operate',
  asIs<{ id: number; body: unknown }>,
  async (act, { id, body }): Promise<void> => {
    const watch = await foundWatch(act.trx, id);
    const { by, until } = await validateBody<{ by: string; until: string | null }>(takeSchema, body);
    const { key } = await told(act.trx, watch);
    const taking = { type: 'take' as const, thread: key, by: by || actorOf(act.who).name };
    await saveTaking(act.trx, { ...taking, until: until === null ? null : readMoment(until) }, act.now);
    touched(act, watch);
  },
);

export const giveWatchBack = changes(
  'giveWatchBack',
  'operate',
  asIs<{ id: number }>,
  async (act, { id }): Promise<void> => {
    const watch = await foundWatch(act.trx, id);
    const { key } = await told(act.trx, watch);
    await saveTaking(act.trx, { type: 'give-back', thread: key, by: actorOf(act.who).name }, act.now);
    touched(act, watch);
  },
);

/** What a link in a message is about, for whoever opens it. */
export interface LinkedTrouble {
  name: string;
  isDrill: boolean;
  /** When it began, ms since 1970. */
  began: number;
  takenBy: string | null;
}

const overText =
  'This link is about a trouble that is over, or it is more than a day old. Open the desk to see what is wrong now.';

/** The trouble a link leads to; refused where it was not made here, is too old, or the trouble is over. */
async function linked(db: Db, world: Pick<World, 'vault' | 'now'>, token: string) {
  const link = readTakeLink(token, await ensureTakeKey(db, world.vault), world.now());
  const watch = link && (await fetchWatch(db, link.watchId));
  const thread = link && (await fetchThread(db, threadOf(link.watchId, link.drill)));
  if (!watch || !thread?.open || thread.open.at !== link?.openedAt) throw new Refusal('link.over', overText);
  return { watch, thread, open: thread.open };
}

/** Reads what a link is about. It shows no more than the message it stood in. */
export async function readLinked(
  db: Db,
  world: Pick<World, 'vault' | 'now'>,
  token: string,
): Promise<LinkedTrouble | null> {
  try {
    const { watch, thread, open } = await linked(db, world, token);
    const began = open.event.kind === 'down' ? open.event.began : open.at;
    return {
      name: watch.name,
      isDrill: thread.watch?.drill !== undefined,
      began,
      takenBy: thread.taken?.by ?? null,
    };
  } catch (error) {
    if (error instanceof Refusal) return null;
    throw error;
  }
}

const linkSchema = strictObject({
  token: string().required('Expected the end of the link, got nothing.').max(200),
  by: string()
    .trim()
    .required('Expected your name, so that the others know who has it.')
    .max(60, 'Expected a name of at most 60 characters.'),
});

interface Linking {
  token: string;
  by: string;
}

/** Takes what a link is about. */
export const takeByLink = changes(
  'takeByLink',
  'operate',
  asIs<Linking>,
  async (act, { token, by }): Promise<void> => {
    const { watch, thread } = await linked(act.trx, act.world, token);
    await saveTaking(act.trx, { type: 'take', thread: thread.key, by, until: null }, act.now);
    touched(act, watch);
  },
);

/** Whoever holds a link got the message: takes what it is about under the name they give. */
export async function takeAsHolder(body: unknown, world: World): Promise<void> {
  const asked = await validateBody<Linking>(linkSchema, body);
  const holder: Principal = { type: 'link', name: asked.by, rights: new Set(['operate']) };
  await takeByLink(holder, asked, world);
}
