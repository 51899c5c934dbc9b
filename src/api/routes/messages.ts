import { channelKinds } from '@/channels/kinds/registry';
import * as channels from '@/cases/messages/channels';
import * as deliveries from '@/cases/messages/deliveries';
import { channelSchema, channelTestSchema, findSchema } from '@/cases/schemas/messages';
import type { Channel } from '@/store/messages/channels';
import { object } from 'yup';
import { SAID_KINDS } from '@/core/messages/said';
import { ruleInWords } from '@/core/telling/rule-words';
import { wholeNumber } from '@/cases/schemas/common';
import type { DeliveryFilter, KeptDelivery } from '@/store/messages/sent';
import { channel, channelAnswer, delivery, deliveryStory, found, pushKey } from '@/api/answers/others';
import { watchRef } from '@/api/answers/watch';
import { oneOfQuery } from '@/api/query';
import { byTime, route, type Route } from '@/api/route';
import { channelShape } from '@/api/shapes';
import * as rest from './resource';

const TAG = 'Messages';

const channelBody = { oneOf: () => channelKinds().map((kind) => channelSchema(kind.id)!) };
const EXAMPLE = {
  kind: 'webhook',
  name: 'Crew room',
  settings: { address: 'https://chat.ternferry.test/hooks/crew' },
};

const CHANNEL: rest.Resource<Channel> = {
  path: '/channels',
  tag: TAG,
  what: 'channel',
  shape: channel,
  versioned: true,
  tell: ({ world }, one) => channelShape(one, world.vault),
};

const sentQuery = object({
  channel: wholeNumber('channel', '', 1, Number.MAX_SAFE_INTEGER)
    .optional()
    .meta({ description: 'Only to this channel.' }),
  watch: wholeNumber('watch', '', 1, Number.MAX_SAFE_INTEGER)
    .optional()
    .meta({ description: 'Only about this watch.' }),
  outcome: oneOfQuery(['waiting', 'delivered', 'given-up'], 'Only what came to this.'),
  says: oneOfQuery(SAID_KINDS, 'Only messages that say this.'),
});

function filterOf(query: Record<string, unknown>): DeliveryFilter {
  const {
    channel: channelId,
    watch: watchId,
    outcome,
    says,
  } = query as {
    channel?: number;
    watch?: number;
    outcome?: DeliveryFilter['state'];
    says?: string;
  };
  return {
    ...(channelId !== undefined && { channelId }),
    ...(watchId !== undefined && { watchId }),
    ...(outcome !== undefined && { state: outcome }),
    ...(says !== undefined && { says }),
  };
}

const DELIVERY: rest.Resource<KeptDelivery> = {
  path: '/deliveries',
  tag: TAG,
  what: 'delivery',
  shape: delivery,
  // Only what waits has a next try.
  tell: (_, one) => ({ ...one, nextAt: one.state === 'waiting' ? one.nextAt : null }),
};

export const messageRoutes: Route[] = [
  rest.listRoute(CHANNEL, { does: channels.listChannels, answer: 'Channels; their secrets are not shown.' }),
  rest.createRoute(CHANNEL, {
    does: channels.createChannel,
    summary: 'Connect a channel',
    body: channelBody,
    example: EXAMPLE,
  }),
  rest.getRoute(CHANNEL, { does: channels.getChannel }),
  rest.changeRoute(CHANNEL, { does: channels.changeChannel, body: channelBody, example: { enabled: false } }),
  rest.deleteRoute(CHANNEL, {
    does: channels.deleteChannel,
    summary: 'Disconnect a channel and forget its deliveries',
    refusals: ['channel.in-use'],
  }),
  route({
    method: 'GET',
    path: '/channels/{id}/unheard',
    tag: TAG,
    summary: 'The watches that would tell nobody without this channel',
    does: channels.listLeftUnheard,
    status: 200,
    answer: 'All of them; none, where each has another.',
    shape: { each: watchRef },
    input: ({ ids }) => ({ id: ids.id! }),
  }),
  rest.actRoute(TAG, '/channel-tests', {
    does: channels.tryChannel,
    summary: 'Send a test with settings that are not saved',
    body: channelBody,
    example: EXAMPLE,
    answer: 'The other side’s answer.',
    shape: channelAnswer,
    refusals: ['engine.away'],
    input: ({ body }) => ({ body }),
  }),
  rest.actRoute(TAG, '/channel-choices', {
    does: channels.findForChannel,
    summary: 'Ask the other side what may stand in a field of a channel’s settings',
    body: findSchema,
    example: {
      kind: 'bot',
      field: 'chat',
      settings: { address: 'https://bots.ternferry.test', token: '17956:the-token' },
    },
    answer: 'What may stand there, with words for it.',
    shape: { each: found },
    refusals: ['engine.away'],
    input: ({ body }) => ({ body }),
  }),
  rest.actRoute(TAG, '/push-key', {
    does: channels.getPushKey,
    summary: 'Get the key a browser is switched on with for pushes',
    answer: 'The public key of this desk; it is made where there is none yet.',
    shape: pushKey,
    input: () => ({}),
  }),
  rest.actRoute(TAG, '/channels/{id}/test', {
    does: channels.testChannel,
    summary: 'Send a test',
    body: channelTestSchema,
    bodyOptional: true,
    example: {},
    answer: 'The other side’s answer.',
    shape: channelAnswer,
    refusals: ['engine.away'],
    input: ({ ids, body }) => ({ id: ids.id!, body: body as object }),
  }),
  route({
    method: 'GET',
    path: DELIVERY.path,
    tag: TAG,
    summary: 'What was sent',
    does: deliveries.listDeliveries,
    list: byTime((item: { id: number; createdAt: number }) => [item.createdAt, item.id]),
    status: 200,
    answer: 'Deliveries with the last answer each got, the newest first.',
    shape: { each: delivery },
    query: sentQuery,
    input: ({ page, query }) => ({ page, filter: filterOf(query) }),
    tell: (call, all, db) => all.map((one) => DELIVERY.tell(call, one, db)),
  }),
  rest.getRoute(DELIVERY, { does: deliveries.getDelivery }),
  route({
    method: 'GET',
    path: '/deliveries/{id}/story',
    tag: TAG,
    summary: 'Why it was sent, what came of each try, and who else was considered',
    does: deliveries.getDeliveryStory,
    status: 200,
    answer: 'All that is known of it.',
    shape: deliveryStory,
    input: ({ ids }) => ({ id: ids.id! }),
    tell: (_, { rule, notes, ...story }) => ({
      ...story,
      why: rule === null ? null : ruleInWords(rule),
      notes: notes.map(({ rule: of, ...note }) => ({ ...note, why: ruleInWords(of) })),
    }),
  }),
  rest.actRoute(TAG, '/deliveries/{id}/again', {
    does: deliveries.sendAgain,
    summary: 'Send the same message once more',
    answer: 'The new delivery.',
    shape: delivery,
    refusals: ['delivery.waiting', 'channel.rests'],
    input: ({ ids }) => ({ id: ids.id! }),
    tell: (call, one, db) => DELIVERY.tell(call, one, db),
  }),
];
