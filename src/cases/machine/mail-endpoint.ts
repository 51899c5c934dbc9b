import type { MailEndpointSettings } from '@/core/reports/mail-words';
import { fetchMailEndpoint, saveMailEndpoint } from '@/store/messages/mail-endpoint';
import { withoutReadOnly } from '@/cases/frame/read-only';
import { refused } from '@/cases/frame/refusal';
import { asks, changes } from '@/cases/frame/use-case';
import { validateBody } from '@/cases/frame/validate';
import { refuseChanged, versionOf, type Expected } from '@/cases/frame/version';
import { mailEndpointSchema } from '@/cases/schemas/mail';

export function mailEndpointVersion(settings: MailEndpointSettings): string {
  return versionOf(settings);
}

/** How reports by mail are taken in. */
export const getMailReports = asks('getMailReports', 'look', async ({ db, world }) => {
  const { problem, seen: mails } = await world.mailEndpoint.state();
  return { ...(await fetchMailEndpoint(db)), problem, mails };
});

interface MailChange {
  body: object;
  expected: Expected;
}

/** Takes reports by mail, or stops to. By the time it answers it listens; where it cannot, nothing is kept. */
export const changeMailReports = changes(
  'changeMailReports',
  'operate',
  async ({ body, expected }: MailChange, { db, world }) => {
    const before = await fetchMailEndpoint(db);
    refuseChanged(expected, mailEndpointVersion(before), 'how mail is taken in');
    const sent = withoutReadOnly(body, ['problem', 'mails']);
    const settings = await validateBody<MailEndpointSettings>(mailEndpointSchema, { ...before, ...sent });
    try {
      await world.mailEndpoint.change(settings);
    } catch (error) {
      throw refused([{ field: 'port', message: (error as Error).message }]);
    }
    return settings;
  },
  async ({ trx, about }, settings): Promise<MailEndpointSettings> => {
    await saveMailEndpoint(trx, settings);
    about({ kind: 'mail reports', id: null, name: settings.domain ?? '' });
    return settings;
  },
);
