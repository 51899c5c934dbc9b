import type { ObjectSchema } from 'yup';
import { channelKinds } from '@/channels/registry';
import { hashSecret, newSecret } from '@/accounts/secrets';
import {
  deleteChannel,
  fetchChannel,
  fetchChannels,
  saveChannelChange,
  saveNewChannel,
  sealSettings,
  type Channel,
} from '@/store/messages/channels';
import { fetchDeliveries } from '@/store/messages/deliveries';
import { openWhatOpens } from '@/store/db/vault';
import { fetchTokens, revokeToken, saveToken } from '@/store/access/tokens';
import { notFound, refused } from '@/api/problem';
import { idOf, limitOf, type Call, type Route } from '@/api/route';
import { channelKindIds, channelSchema, tokenSchema } from '@/api/schemas/messages';
import { channelShape, iso } from '@/api/shapes';
import { validateBody } from '@/api/validate';

const body = { oneOf: () => channelKinds().map((kind) => channelSchema(kind.id)!) };

interface ValidChannel {
  kind: string;
  name: string;
  enabled: boolean;
  settings: object;
}

async function validateChannel(given: unknown): Promise<ValidChannel> {
  const kind = (given as { kind?: unknown } | null)?.kind ?? 'webhook';
  const schema = typeof kind === 'string' ? channelSchema(kind) : undefined;
  if (!schema) {
    const message = `Expected kind to be one of ${channelKindIds().join(', ')}, got ${JSON.stringify(kind)}.`;
    throw refused([{ field: 'kind', message }]);
  }
  return validateBody<ValidChannel>(schema, { ...(given as object), kind });
}

async function found(call: Call): Promise<Channel> {
  const channel = await fetchChannel(call.context.db, idOf(call));
  if (!channel) throw notFound(`channel ${call.params.id}`);
  return channel;
}

/** What waits for a channel goes out as soon as it may. */
async function tellEngine(call: Call): Promise<void> {
  await call.context.engine.call('channelsChanged', {}).catch(() => undefined);
}

export const messageRoutes: Route[] = [
  {
    method: 'GET',
    path: '/channels',
    tag: 'Messages',
    summary: 'All channels; their secrets are not shown',
    status: 200,
    answer: 'An array of channels.',
    handle: async (call) =>
      (await fetchChannels(call.context.db)).map((channel) => channelShape(channel, call.context.vault)),
  },
  {
    method: 'POST',
    path: '/channels',
    tag: 'Messages',
    summary: 'Connect a channel',
    body,
    status: 201,
    answer: 'The channel.',
    handle: async (call) => {
      const valid = await validateChannel(call.body);
      const { db, vault } = call.context;
      const settings = sealSettings(vault, valid.settings);
      const id = await saveNewChannel(db, { ...valid, settings, createdAt: call.now });
      await tellEngine(call);
      return channelShape((await fetchChannel(db, id))!, vault);
    },
  },
  {
    method: 'POST',
    path: '/channel-tests',
    tag: 'Messages',
    summary: 'Send a test with settings that are not saved',
    body,
    status: 200,
    answer: 'The other side’s answer: ok, and what it said.',
    handle: async (call) => {
      const { kind, settings: open } = await validateChannel({ name: 'test', ...(call.body as object) });
      const settings = sealSettings(call.context.vault, open);
      return call.context.engine.call('testChannel', { kind, settings });
    },
  },
  {
    method: 'PATCH',
    path: '/channels/{id}',
    tag: 'Messages',
    summary: 'Change a channel; fields that are left out stay as they are',
    body,
    status: 200,
    answer: 'The channel.',
    handle: async (call) => {
      const channel = await found(call);
      const change = call.body as Partial<ValidChannel>;
      const { kind, name, enabled } = channel;
      const { vault } = call.context;
      if (change.settings === undefined) {
        // What is sealed stays so: it may be that no key opens it.
        const schema = (channelSchema(kind) as ObjectSchema<object>).omit(['settings' as never]);
        const valid = await validateBody<ValidChannel>(schema, { kind, name, enabled, ...change });
        await saveChannelChange(call.context.db, channel.id, { ...valid, settings: channel.settings });
      } else {
        const settings = { ...openWhatOpens(vault, channel.settings), ...change.settings };
        const valid = await validateChannel({ kind, name, enabled, ...change, settings });
        const sealed = sealSettings(vault, valid.settings);
        await saveChannelChange(call.context.db, channel.id, { ...valid, settings: sealed });
      }
      await tellEngine(call);
      return channelShape(await found(call), call.context.vault);
    },
  },
  {
    method: 'DELETE',
    path: '/channels/{id}',
    tag: 'Messages',
    summary: 'Disconnect a channel and forget its deliveries',
    status: 204,
    answer: 'Nothing.',
    handle: async (call) => {
      await deleteChannel(call.context.db, (await found(call)).id);
    },
  },
  {
    method: 'POST',
    path: '/channels/{id}/test',
    tag: 'Messages',
    summary: 'Send a test',
    status: 200,
    answer: 'The other side’s answer: ok, and what it said.',
    handle: async (call) => {
      const { kind, settings } = await found(call);
      return call.context.engine.call('testChannel', { kind, settings });
    },
  },
  {
    method: 'GET',
    path: '/deliveries',
    tag: 'Messages',
    summary: 'What was sent, the newest first, with the last answer',
    query: [{ name: 'limit', description: 'At most this many (100; up to 1000).' }],
    status: 200,
    answer: 'An array of deliveries.',
    handle: async (call) =>
      (await fetchDeliveries(call.context.db, limitOf(call, 100, 1000))).map((delivery) => ({
        ...delivery,
        nextAt: iso(delivery.nextAt),
        createdAt: iso(delivery.createdAt),
        lastAt: iso(delivery.lastAt),
      })),
  },
  {
    method: 'GET',
    path: '/tokens',
    tag: 'Access',
    summary: 'API tokens, without their secrets',
    status: 200,
    answer: 'An array of tokens.',
    handle: async (call) =>
      (await fetchTokens(call.context.db)).map((token) => ({
        ...token,
        createdAt: iso(token.createdAt),
        lastUsedAt: iso(token.lastUsedAt),
      })),
  },
  {
    method: 'POST',
    path: '/tokens',
    tag: 'Access',
    summary: 'Make an API token',
    body: tokenSchema,
    status: 201,
    answer: 'The token; its secret is shown this once.',
    handle: async (call) => {
      const { name } = await validateBody<{ name: string }>(tokenSchema, call.body);
      const secret = newSecret();
      await saveToken(call.context.db, { name, tokenHash: hashSecret(secret), createdAt: call.now });
      return { name, secret };
    },
  },
  {
    method: 'DELETE',
    path: '/tokens/{id}',
    tag: 'Access',
    summary: 'Revoke an API token',
    status: 204,
    answer: 'Nothing.',
    handle: async (call) => {
      if (!(await revokeToken(call.context.db, idOf(call), call.now)))
        throw notFound(`token ${call.params.id}`);
    },
  },
];
