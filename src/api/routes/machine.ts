import { getEntrance, followEvents } from '@/cases/machine/entrance';
import * as mail from '@/cases/machine/mail-endpoint';
import * as uplink from '@/cases/machine/uplink';
import {
  changeSharedSettings,
  getSharedSettings,
  previewSharedSettings,
} from '@/cases/watches/shared-settings';
import { mailEndpointSchema } from '@/cases/schemas/mail';
import { sharedSchema } from '@/cases/schemas/shared';
import { uplinkSchema } from '@/cases/schemas/uplink';
import {
  entrance,
  mailReports,
  mailReportsChanged,
  ownLine,
  ownLineChanged,
  ownLineLoss,
} from '@/api/answers/others';
import { sharedChanged, sharedSettings } from '@/api/answers/watch';
import { route, type Call, type Route } from '@/api/route';

const LINE = 'Own line';
const MAIL = 'Check-ins';
const SHARED = 'Shared settings';

const replaced = ({ body, expected }: Call) => ({ body, expected });

export const machineRoutes: Route[] = [
  route({
    method: 'GET',
    path: '/own-line',
    tag: LINE,
    summary: 'The addresses that tell whether this machine can reach out',
    does: uplink.getOwnLine,
    status: 200,
    answer: 'The addresses.',
    shape: ownLine,
    versioned: true,
    still: true,
    input: () => ({}),
    tell: (_, out) => ({ ...out, version: uplink.uplinkVersion(out.addresses) }),
  }),
  route({
    method: 'PATCH',
    path: '/own-line',
    tag: LINE,
    summary: 'Write those addresses anew',
    description: 'The whole list is written over: If-Match says which one was read.',
    does: uplink.changeOwnLine,
    body: uplinkSchema,
    status: 200,
    answer: 'The addresses, and whether the line is lost at this moment.',
    shape: ownLineChanged,
    versioned: true,
    refusals: ['input.invalid', 'state.changed', 'state.unnamed'],
    example: { addresses: ['192.0.2.1', 'names.ternferry.test:53'] },
    input: replaced,
    tell: (_, out) => ({ ...out, version: uplink.uplinkVersion(out.addresses) }),
  }),
  route({
    method: 'GET',
    path: '/own-line/losses',
    tag: LINE,
    summary: 'When this machine could not reach out',
    does: uplink.listOwnLineLosses,
    list: {
      by: 'time',
      lasts: true,
      keyOf: (item: { id: number; beganAt: number }) => [item.beganAt, item.id] as const,
    },
    status: 200,
    answer: 'Losses of the line, the newest first.',
    shape: { each: ownLineLoss },
    input: ({ page }) => ({ page }),
    tell: (_, out) => out.map(({ id, began, ended }) => ({ id, beganAt: began, endedAt: ended })),
  }),
  route({
    method: 'GET',
    path: '/mail-reports',
    tag: MAIL,
    summary: 'How reports by mail are taken in, and the mails that came last',
    does: mail.getMailReports,
    status: 200,
    answer: 'The settings, what stands in the way, and the last mails since the start.',
    shape: mailReports,
    versioned: true,
    input: () => ({}),
    tell: (_, { problem, mails, ...settings }) => ({
      ...settings,
      problem,
      mails: mails.map(({ taken, ...seen }) => ({
        ...seen,
        taken: taken.map(({ kind, ...one }) => ({ ...one, is: kind })),
      })),
      version: mail.mailEndpointVersion(settings),
    }),
  }),
  route({
    method: 'PATCH',
    path: '/mail-reports',
    tag: MAIL,
    summary: 'Take reports by mail, or stop to',
    description: 'Fields that are left out stay as they are.',
    does: mail.changeMailReports,
    body: mailEndpointSchema,
    partial: true,
    status: 200,
    answer: 'The settings; by then it listens.',
    shape: mailReportsChanged,
    versioned: true,
    refusals: ['input.invalid', 'state.changed'],
    example: { open: true, port: 2525, domain: 'in.ternferry.test' },
    input: replaced,
    tell: (_, out) => ({ ...out, version: mail.mailEndpointVersion(out) }),
  }),
  route({
    method: 'GET',
    path: '/shared-settings',
    tag: SHARED,
    summary: 'What is set for more than one watch',
    does: getSharedSettings,
    status: 200,
    answer:
      'The settings that may be shared, with the kinds that have them; what ships; and what is set for everything, for kinds and for sections.',
    shape: sharedSettings,
    versioned: true,
    still: true,
    input: () => ({}),
  }),
  route({
    method: 'PATCH',
    path: '/shared-settings',
    tag: SHARED,
    summary: 'Change what holds for everything, for a kind or for a section',
    description: 'With preview, nothing is changed.',
    does: changeSharedSettings,
    instead: {
      does: previewSharedSettings,
      when: ({ body }) => (body as { preview?: unknown }).preview === true,
    },
    body: sharedSchema(),
    status: 200,
    answer: 'What is set there now, and each watch for which something changes, setting by setting.',
    shape: sharedChanged,
    versioned: true,
    refusals: ['input.invalid', 'not.found', 'state.changed'],
    example: { level: 'kind', kind: 'certificate', everySeconds: 21600, preview: true },
    input: replaced,
  }),
  route({
    method: 'GET',
    path: '/events',
    tag: 'Live',
    summary: 'What changes, as it changes',
    description:
      'Server-sent events (WHATWG HTML): "hello" with when anything last changed, "watches" with ids, states and times, "deliveries" and "changed".',
    does: followEvents,
    status: 200,
    answer: 'A stream that lasts for as long as it is listened to.',
    shape: null,
    stream: true,
    input: () => ({}),
  }),
  route({
    method: 'GET',
    path: '',
    tag: 'Live',
    summary: 'Where everything begins',
    does: getEntrance,
    status: 200,
    answer: 'The address of each list, of the document and of the reference.',
    shape: entrance,
    still: true,
    input: ({ base }) => ({ base }),
  }),
];
