import { channelKinds } from '@/channels/registry';
import * as channels from '@/cases/messages/channels';
import * as deliveries from '@/cases/messages/deliveries';
import { channelSchema } from '@/cases/schemas/messages';
import type { Channel } from '@/store/messages/channels';
import type { KeptDelivery } from '@/store/messages/deliveries';
import { channel, channelAnswer, delivery } from '@/api/answers/others';
import { route, type Call, type Route } from '@/api/route';
import { channelShape } from '@/api/shapes';

const TAG = 'Messages';

const channelBody = { oneOf: () => channelKinds().map((kind) => channelSchema(kind.id)!) };
const EXAMPLE = {
  kind: 'webhook',
  name: 'Crew room',
  settings: { address: 'https://chat.ternferry.test/hooks/crew' },
};

const one = ({ ids }: Call) => ({ id: ids.id! });
const body = (call: Call) => ({ body: call.body });
const tellChannel = ({ world }: Call, out: Channel) => channelShape(out, world.vault);
/** Only what waits has a next try. */
const tellDelivery = (out: KeptDelivery) => ({ ...out, nextAt: out.state === 'waiting' ? out.nextAt : null });

export const messageRoutes: Route[] = [
  route({
    method: 'GET',
    path: '/channels',
    tag: TAG,
    summary: 'The channels',
    does: channels.listChannels,
    list: { by: 'order' },
    status: 200,
    answer: 'Channels; their secrets are not shown.',
    shape: { each: channel },
    input: () => ({}),
    tell: (call, out) => out.map((channel) => tellChannel(call, channel)),
  }),
  route({
    method: 'POST',
    path: '/channels',
    tag: TAG,
    summary: 'Connect a channel',
    does: channels.createChannel,
    body: channelBody,
    status: 201,
    answer: 'The channel.',
    shape: channel,
    versioned: true,
    refusals: ['input.invalid'],
    location: ({ id }) => `/channels/${id}`,
    example: EXAMPLE,
    input: body,
    tell: tellChannel,
  }),
  route({
    method: 'GET',
    path: '/channels/{id}',
    tag: TAG,
    summary: 'One channel',
    does: channels.getChannel,
    status: 200,
    answer: 'The channel.',
    shape: channel,
    versioned: true,
    input: one,
    tell: tellChannel,
  }),
  route({
    method: 'PATCH',
    path: '/channels/{id}',
    tag: TAG,
    summary: 'Change a channel',
    description: 'Fields that are left out stay as they are.',
    does: channels.changeChannel,
    body: channelBody,
    partial: true,
    status: 200,
    answer: 'The channel.',
    shape: channel,
    versioned: true,
    refusals: ['input.invalid', 'state.changed'],
    example: { enabled: false },
    input: ({ ids, body: sent, expected }) => ({ id: ids.id!, body: sent, expected }),
    tell: tellChannel,
  }),
  route({
    method: 'DELETE',
    path: '/channels/{id}',
    tag: TAG,
    summary: 'Disconnect a channel and forget its deliveries',
    does: channels.deleteChannel,
    status: 204,
    answer: 'Nothing.',
    shape: null,
    refusals: ['state.changed'],
    input: ({ ids, expected }) => ({ id: ids.id!, expected }),
  }),
  route({
    method: 'POST',
    path: '/channel-tests',
    tag: TAG,
    summary: 'Send a test with settings that are not saved',
    does: channels.tryChannel,
    body: channelBody,
    status: 200,
    answer: 'The other side’s answer.',
    shape: channelAnswer,
    refusals: ['input.invalid', 'engine.away'],
    example: EXAMPLE,
    input: body,
  }),
  route({
    method: 'POST',
    path: '/channels/{id}/test',
    tag: TAG,
    summary: 'Send a test',
    does: channels.testChannel,
    status: 200,
    answer: 'The other side’s answer.',
    shape: channelAnswer,
    refusals: ['engine.away'],
    input: one,
  }),
  route({
    method: 'GET',
    path: '/deliveries',
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
    tell: (_, out) => out.map(tellDelivery),
  }),
  route({
    method: 'GET',
    path: '/deliveries/{id}',
    tag: TAG,
    summary: 'One delivery',
    does: deliveries.getDelivery,
    status: 200,
    answer: 'The delivery.',
    shape: delivery,
    input: one,
    tell: (_, out) => tellDelivery(out),
  }),
];
