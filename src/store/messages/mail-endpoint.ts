import { USUAL_MAIL_ENDPOINT, type MailEndpointSettings } from '@/core/reports/mail-words';
import type { Db } from '@/store/db/connection';
import { fetchSetting, saveSetting } from '@/store/db/settings';

const SETTING = 'mail_door';

/** How reports by mail are taken in. */
export async function fetchMailEndpoint(db: Db): Promise<MailEndpointSettings> {
  const text = await fetchSetting(db, SETTING);
  return text ? (JSON.parse(text) as MailEndpointSettings) : USUAL_MAIL_ENDPOINT;
}

export async function saveMailEndpoint(db: Db, settings: MailEndpointSettings): Promise<void> {
  await saveSetting(db, SETTING, JSON.stringify(settings));
}
