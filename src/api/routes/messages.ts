import { channelKinds } from '@/channels/registry';
import * as channels from '@/cases/messages/channels';
import * as deliveries from '@/cases/messages/deliveries';
import { channelSchema } from '@/cases/schemas/messages';
import type { Channel } from '@/store/messages/channels';
import type { KeptDelivery } from '@/store/messages/deliveries';
import { channel, channelAnswer, delivery } from '@/api/answers/others';
import { route, type Route } from '@/api/route';
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
  rest.actRoute(TAG, '/channels/{id}/test', {
    does: channels.testChannel,
    summary: 'Send a test',
    answer: 'The other side’s answer.',
    shape: channelAnswer,
    refusals: ['engine.away'],
    input: ({ ids }) => ({ id: ids.id! }),
  }),
  route({
    method: 'GET',
    path: DELIVERY.path,
    tag: TAG,
    summary: 'What was sent',
    does: deliveries.listDeliveries,
    list: {
      by: 'time',
      keyOf: (item: { createdAt: number; id: number }) => [item.createdAt, item.id] as const,
    },
    status: 200,
    answer: 'Deliveries with the last answer each got, the newest first.',
    shape: { each: delivery },
    input: ({ page }) => ({ page }),
    tell: (call, all, db) => all.map((one) => DELIVERY.tell(call, one, db)),
  }),
  rest.getRoute(DELIVERY, { does: deliveries.getDelivery }),
];
