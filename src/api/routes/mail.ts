import type { MailDoorSettings } from '../../core/mail-words';
import { fetchMailDoor, saveMailDoor } from '../../store/mail-door';
import { refused } from '../problem';
import type { Route } from '../route';
import { mailDoorSchema } from '../schemas/mail';
import { iso } from '../shapes';
import { validateBody } from '../validate';

export const mailRoutes: Route[] = [
  {
    method: 'GET',
    path: '/mail-door',
    tag: 'Check-ins',
    summary: 'How reports by mail are taken in, and the mails that came last',
    status: 200,
    answer: 'The settings, what stands in the way, and the last mails since the start.',
    handle: async ({ context: { db, mailDoor } }) => ({
      ...(await fetchMailDoor(db)),
      problem: mailDoor.problem,
      mails: mailDoor.seen.map((mail) => ({ ...mail, at: iso(mail.at) })),
    }),
  },
  {
    method: 'PATCH',
    path: '/mail-door',
    tag: 'Check-ins',
    summary: 'Take reports by mail, or stop to',
    body: mailDoorSchema,
    status: 200,
    answer: 'The settings; by then it listens.',
    handle: async ({ context: { db, mailDoor }, body }) => {
      const settings = await validateBody<MailDoorSettings>(mailDoorSchema, body);
      try {
        await mailDoor.change(settings);
      } catch (error) {
        throw refused([{ field: 'port', message: (error as Error).message }]);
      }
      await saveMailDoor(db, settings);
      return settings;
    },
  },
];
