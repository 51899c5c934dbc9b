import type { MailEndpointSettings } from '@/core/reports/mail-words';
import { fetchMailEndpoint, saveMailEndpoint } from '@/store/messages/mail-endpoint';
import { refused } from '@/api/problem';
import type { Route } from '@/api/route';
import { mailEndpointSchema } from '@/api/schemas/mail';
import { iso } from '@/api/shapes';
import { validateBody } from '@/api/validate';

export const mailRoutes: Route[] = [
  {
    method: 'GET',
    path: '/mail-door',
    tag: 'Check-ins',
    summary: 'How reports by mail are taken in, and the mails that came last',
    status: 200,
    answer: 'The settings, what stands in the way, and the last mails since the start.',
    handle: async ({ context: { db, mailEndpoint } }) => ({
      ...(await fetchMailEndpoint(db)),
      problem: mailEndpoint.problem,
      mails: mailEndpoint.seen.map((mail) => ({ ...mail, at: iso(mail.at) })),
    }),
  },
  {
    method: 'PATCH',
    path: '/mail-door',
    tag: 'Check-ins',
    summary: 'Take reports by mail, or stop to',
    body: mailEndpointSchema,
    status: 200,
    answer: 'The settings; by then it listens.',
    handle: async ({ context: { db, mailEndpoint }, body }) => {
      const settings = await validateBody<MailEndpointSettings>(mailEndpointSchema, body);
      try {
        await mailEndpoint.change(settings);
      } catch (error) {
        throw refused([{ field: 'port', message: (error as Error).message }]);
      }
      await saveMailEndpoint(db, settings);
      return settings;
    },
  },
];
