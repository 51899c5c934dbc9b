import type { Answer } from '@/channels/frame/kind';
import { USUAL_LANGUAGE } from '@/core/languages/language';
import { exampleOf } from '@/core/messages/example';
import type { KeptMessage } from '@/core/messages/kept-message';
import type { MessageText } from '@/core/messages/message';
import { messageInOwnWords, type OwnText } from '@/core/messages/own-text';
import type { SaidEvent } from '@/core/messages/said';
import { TemplateError } from '@/core/messages/sandbox';
import { deletes } from '@/cases/frame/deletes';
import { orNotFound } from '@/cases/frame/find';
import { withoutReadOnly } from '@/cases/frame/read-only';
import { refused } from '@/cases/frame/refusal';
import { asIs, asks, changes, type Act, type Asking } from '@/cases/frame/use-case';
import { validateBody } from '@/cases/frame/validate';
import { refuseChanged, versionOf, type Expected } from '@/cases/frame/version';
import { textSchema, textTestSchema, textTrialSchema } from '@/cases/schemas/texts';
import type { Db } from '@/store/db/connection';
import { fetchChannel, type Channel } from '@/store/messages/channels';
import { fetchLatestSaid } from '@/store/messages/sent';
import * as store from '@/store/messages/texts';
import type { KeptText } from '@/store/messages/texts';

type ValidText = OwnText & Pick<KeptText, 'channelId' | 'happening'>;

async function found(db: Db, id: number): Promise<KeptText> {
  return orNotFound(await store.fetchText(db, id), `text ${id}`);
}

export function textVersion({ channelId, happening, title, body }: KeptText): string {
  return versionOf([channelId, happening, title, body]);
}

async function channelOf(db: Db, id: number | null): Promise<Channel | null> {
  if (id === null) return null;
  const channel = await fetchChannel(db, id);
  if (!channel) throw refused([{ field: 'channelId', message: `There is no channel ${id}.` }]);
  return channel;
}

/** A text as it may be kept: its channel is there, and has no other for the same. */
async function validText(db: Db, body: unknown, mine: number | null): Promise<ValidText> {
  const valid = await validateBody<ValidText>(textSchema, body);
  const channel = await channelOf(db, valid.channelId);
  const other = await store.fetchTextFor(db, valid.channelId, valid.happening);
  if (!other || other.id === mine) return valid;
  const where = channel ? `“${channel.name}”` : 'every channel';
  const message = `There is a text of “${valid.happening}” for ${where} already.`;
  throw refused([{ field: 'happening', message }]);
}

/** It is said so from now on. */
function touched({ about, afterwards, world }: Act, { id, happening }: Pick<KeptText, 'id' | 'happening'>) {
  about({ kind: 'text', id, name: happening });
  afterwards(() => world.engine.call('channelsChanged', {}).catch(() => undefined));
}

export const listTexts = asks('listTexts', 'look', ({ db }): Promise<KeptText[]> => store.fetchTexts(db));

export const getText = asks('getText', 'look', ({ db }, { id }: { id: number }) => found(db, id));

export const createText = changes(
  'createText',
  'operate',
  asIs<{ body: unknown }>,
  async (act, { body }): Promise<KeptText> => {
    const valid = await validText(act.trx, body, null);
    const id = await store.saveNewText(act.trx, valid, act.now);
    touched(act, { id, happening: valid.happening });
    return found(act.trx, id);
  },
);

export const changeText = changes(
  'changeText',
  'operate',
  asIs<{ id: number; body: object; expected: Expected }>,
  async (act, { id, body, expected }): Promise<KeptText> => {
    const text = await found(act.trx, id);
    refuseChanged(expected, textVersion(text), `The text of “${text.happening}”`);
    const { channelId, happening, title, body: lines } = text;
    const change = withoutReadOnly(body, ['trouble', 'createdAt']);
    const valid = await validText(act.trx, { channelId, happening, title, body: lines, ...change }, id);
    await store.saveTextChange(act.trx, id, valid);
    touched(act, { id, happening: valid.happening });
    return found(act.trx, id);
  },
);

export const deleteText = deletes('deleteText', 'operate', {
  find: found,
  version: textVersion,
  called: ({ happening }) => `The text of “${happening}”`,
  remove: store.deleteText,
  touched,
});

/** A text tried on what happened last, or on what is made up where nothing of the kind happened yet. */
export interface TextTrial {
  /** What would be said; null where it cannot be filled in. */
  text: MessageText | null;
  /** Why not, as a sentence. */
  problem: string | null;
  /** When that was said which it was tried on; null where that is made up. */
  saidAt: number | null;
  about: string;
}

async function tried(
  { db, world, now }: Asking,
  { title, body, happening, channelId }: ValidText,
): Promise<TextTrial> {
  const channel = await channelOf(db, channelId);
  const past = await fetchLatestSaid(db, happening);
  const message: KeptMessage = past?.message ?? exampleOf(happening as SaidEvent['kind'], now);
  const place = { ...world.place, language: channel?.language ?? USUAL_LANGUAGE };
  const about = { saidAt: past?.at ?? null, about: message.watchName };
  try {
    // Where it is taken is known to a message that is sent only.
    const take = `${place.linkBase}/take/example`;
    const text = messageInOwnWords(message, past?.watchId ?? null, place, { title, body }, take);
    return { text, problem: null, ...about };
  } catch (error) {
    if (!(error instanceof TemplateError)) throw error;
    return { text: null, problem: `It cannot be filled in: ${error.message}.`, ...about };
  }
}

/** Fills a text in without keeping it. */
export const tryText = asks(
  'tryText',
  'operate',
  async (asking, { body }: { body: unknown }): Promise<TextTrial> =>
    tried(asking, await validateBody<ValidText>(textTrialSchema, body)),
);

/** Sends a text to a channel, filled in as it would be, without keeping it. */
export const testText = asks(
  'testText',
  'operate',
  async (asking, { body }: { body: unknown }): Promise<Answer> => {
    const valid = await validateBody<ValidText & { channelId: number }>(textTestSchema, body);
    const { text, problem } = await tried(asking, valid);
    if (!text) throw refused([{ field: 'body', message: problem! }]);
    const { kind, settings, language } = (await channelOf(asking.db, valid.channelId))!;
    return asking.world.engine.call('testChannel', { kind, settings, language, words: text });
  },
);
