import webPush from 'web-push';
import type { ObjectSchema } from 'yup';
import type { Language } from '@/core/languages/language';
import type { Answer, Found } from '@/channels/frame/kind';
import { secretsOfElsewhere, withoutKept } from '@/channels/frame/told-settings';
import { channelKind } from '@/channels/kinds/registry';
import { strictObject } from '@/cases/schemas/common';
import type { Db } from '@/store/db/connection';
import { openWhatOpens, type Vault } from '@/store/db/vault';
import {
  deleteChannel as deleteKept,
  fetchChannel,
  fetchChannels,
  saveChannelChange,
  saveNewChannel,
  sealSettings,
  type Channel,
} from '@/store/messages/channels';
import { fetchPages } from '@/store/pages/pages';
import { ensurePushKeys } from '@/store/messages/push-keys';
import { addToFirstRoute, removeFromRoutes } from '@/store/messages/routes';
import { orNotFound } from '@/cases/frame/find';
import { withoutReadOnly } from '@/cases/frame/read-only';
import { Refusal, refused } from '@/cases/frame/refusal';
import { asIs, asks, changes, type Act } from '@/cases/frame/use-case';
import { validateBody } from '@/cases/frame/validate';
import { refuseChanged, versionOf, type Expected } from '@/cases/frame/version';
import { channelKindIds, channelSchema, channelTestSchema, findSchema } from '@/cases/schemas/messages';
import { deletes } from '@/cases/frame/deletes';
import { fetchLeftUnheard } from '@/views/messages/who-hears';
import { ownEntry } from '@/core/text/own-entry';

interface ValidChannel {
  kind: string;
  name: string;
  enabled: boolean;
  fallbackId: number | null;
  language: Language;
  settings: object;
}

async function validChannel(given: object): Promise<ValidChannel> {
  const { kind = 'webhook' } = given as { kind?: unknown };
  const schema = typeof kind === 'string' ? channelSchema(kind) : undefined;
  if (!schema) {
    const got = JSON.stringify(kind).slice(0, 80);
    const message = `Expected kind to be one of ${channelKindIds().join(', ')}, got ${got}.`;
    throw refused([{ field: 'kind', message }]);
  }
  // What is typed into a channel is a key to a room: none of it is repeated.
  const secrets = Object.keys((given as { settings?: object }).settings ?? {});
  return validateBody<ValidChannel>(schema, { ...given, kind }, secrets);
}

async function found(db: Db, id: number): Promise<Channel> {
  return orNotFound(await fetchChannel(db, id), `channel ${id}`);
}

export function channelVersion({ kind, name, enabled, fallbackId, language, settings }: Channel): string {
  return versionOf([kind, name, enabled, fallbackId, language, settings]);
}

/** Who stands in for a channel has to be there, and another one. */
async function checkFallback(db: Db, fallbackId: number | null, id: number | null): Promise<void> {
  if (fallbackId === null) return;
  if (fallbackId === id) throw refused([{ field: 'fallbackId', message: 'Expected another channel.' }]);
  if (await fetchChannel(db, fallbackId)) return;
  throw refused([{ field: 'fallbackId', message: `There is no channel ${fallbackId}.` }]);
}

/** What waits for a channel goes out as soon as it may. */
function touched({ about, afterwards, world }: Act, { id, name }: Pick<Channel, 'id' | 'name'>): void {
  about({ kind: 'channel', id, name });
  afterwards(() => world.engine.call('channelsChanged', {}).catch(() => undefined));
}

/** What a channel's settings become by a change; what is to stay as it is stays. */
function changedSettings({ kind, settings }: Channel, change: object, vault: Vault): object {
  const before = openWhatOpens(vault, settings) as Record<string, unknown>;
  const given = withoutKept(change);
  const elsewhere = secretsOfElsewhere(channelKind(kind)!, before, given);
  if (elsewhere.length > 0) throw refused(elsewhere.map(givenForAnother));
  return { ...before, ...given };
}

function givenForAnother(name: string) {
  return {
    field: `settings.${name}`,
    message: 'Enter it again: it was given for another address, and is not sent to this one.',
  };
}

export const listChannels = asks('listChannels', 'look', ({ db }): Promise<Channel[]> => fetchChannels(db));

export const getChannel = asks('getChannel', 'look', ({ db }, { id }: { id: number }) => found(db, id));

export const createChannel = changes(
  'createChannel',
  'operate',
  ({ body }: { body: object }) => validChannel(body),
  async (act, valid): Promise<Channel> => {
    await checkFallback(act.trx, valid.fallbackId, null);
    const settings = sealSettings(act.world.vault, valid.settings);
    const id = await saveNewChannel(act.trx, { ...valid, settings, createdAt: act.now });
    // What is connected hears of everything, until somebody says otherwise.
    await addToFirstRoute(act.trx, id);
    touched(act, { id, name: valid.name });
    return found(act.trx, id);
  },
);

export const changeChannel = changes(
  'changeChannel',
  'operate',
  asIs<{ id: number; body: object; expected: Expected }>,
  async (act, { id, body, expected }): Promise<Channel> => {
    const channel = await found(act.trx, id);
    refuseChanged(expected, channelVersion(channel), `“${channel.name}”`);
    const { kind, name, enabled, fallbackId, language } = channel;
    const before = { kind, name, enabled, fallbackId, language };
    const change: Partial<ValidChannel> = withoutReadOnly(body, ['shown', 'createdAt']);
    const { vault } = act.world;
    let valid: ValidChannel;
    if (change.settings === undefined) {
      // What is sealed stays so: it may be that no key opens it.
      const schema = (channelSchema(kind) as ObjectSchema<object>).omit(['settings' as never]);
      const rest = await validateBody<ValidChannel>(schema, { ...before, ...change });
      valid = { ...rest, settings: channel.settings };
    } else {
      const settings = changedSettings(channel, change.settings, vault);
      const whole = await validChannel({ ...before, ...change, settings });
      valid = { ...whole, settings: sealSettings(vault, whole.settings) };
    }
    await checkFallback(act.trx, valid.fallbackId, id);
    await saveChannelChange(act.trx, id, valid);
    touched(act, { id, name: valid.name });
    return found(act.trx, id);
  },
);

/** The watches that would tell nobody without a channel. */
export const listLeftUnheard = asks(
  'listLeftUnheard',
  'look',
  async ({ db }, { id }: { id: number }): Promise<{ id: number; name: string }[]> => {
    await found(db, id);
    return fetchLeftUnheard(db, id);
  },
);

export const deleteChannel = deletes('deleteChannel', 'operate', {
  find: found,
  version: channelVersion,
  called: ({ name }) => `“${name}”`,
  remove: async (trx, id) => {
    const carried = (await fetchPages(trx)).find(({ follow }) => follow?.channelId === id);
    if (carried) {
      const otherwise = 'choose another account there, or take following away';
      throw new Refusal('channel.in-use', `The letters of “${carried.title}” go by it: ${otherwise}.`);
    }
    await removeFromRoutes(trx, id);
    await deleteKept(trx, id);
  },
  touched,
});

interface ChannelTest {
  settings?: object;
  language?: Language;
}

/** Sends a test as a channel is, or as it would be with other settings. */
export const testChannel = asks(
  'testChannel',
  'operate',
  async ({ db, world }, { id, body = {} }: { id: number; body?: object }): Promise<Answer> => {
    const channel = await found(db, id);
    const { kind, name } = channel;
    const { settings: change, language = channel.language } = await validateBody<ChannelTest>(
      channelTestSchema,
      body,
      Object.keys((body as { settings?: object }).settings ?? {}),
    );
    if (change === undefined) {
      return world.engine.call('testChannel', { kind, language, settings: channel.settings });
    }
    const { settings } = await validChannel({
      kind,
      name,
      settings: changedSettings(channel, change, world.vault),
    });
    return world.engine.call('testChannel', {
      kind,
      language,
      settings: sealSettings(world.vault, settings),
    });
  },
);

interface FindInput {
  kind: string;
  field: string;
  settings: object;
  channelId?: number;
}

/** Asks the other side what may stand in a field; the other fields are filled in, and nothing is saved. */
export const findForChannel = asks(
  'findForChannel',
  'operate',
  async ({ db, world }, { body }: { body: unknown }): Promise<Found[]> => {
    const { kind, field, ...asked } = await validateBody<FindInput>(
      findSchema,
      body,
      Object.keys((body as { settings?: object } | null)?.settings ?? {}),
    );
    const known = channelKind(kind);
    if (!known?.find || !ownEntry(known.find, field)) {
      const message = `Nothing can be found for “${field.slice(0, 80)}” of a channel of the kind “${kind.slice(0, 80)}”.`;
      throw refused([{ field: 'field', message }]);
    }
    const settings =
      asked.channelId === undefined
        ? asked.settings
        : changedSettings(await found(db, asked.channelId), asked.settings, world.vault);
    const others = strictObject({ settings: known.schema.omit([field as never]) });
    const given = Object.fromEntries(Object.entries(settings).filter(([name]) => name !== field));
    const valid = await validateBody<{ settings: object }>(
      others,
      { settings: given },
      Object.keys(settings),
    );
    const answer = await world.engine.call('findForChannel', {
      kind,
      field,
      settings: sealSettings(world.vault, valid.settings),
    });
    if ('found' in answer) return answer.found;
    throw refused([{ field: `settings.${field}`, message: answer.problem }]);
  },
);

/** What a browser needs for switching itself on: the public half of the keys this desk signs pushes with. */
export const getPushKey = changes(
  'getPushKey',
  'operate',
  asIs<Record<string, never>>,
  async ({ trx, world }): Promise<{ publicKey: string }> => {
    const { publicKey } = await ensurePushKeys(trx, world.vault, webPush.generateVAPIDKeys);
    return { publicKey };
  },
);

/** Sends a test with settings that are not saved. */
export const tryChannel = asks(
  'tryChannel',
  'operate',
  async ({ world }, { body }: { body: object }): Promise<Answer> => {
    const { kind, language, settings } = await validChannel({ name: 'test', ...body });
    return world.engine.call('testChannel', {
      kind,
      language,
      settings: sealSettings(world.vault, settings),
    });
  },
);
