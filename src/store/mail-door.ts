import { USUAL_MAIL_DOOR, type MailDoorSettings } from '../core/mail-words';
import type { Db } from './connection';
import { fetchSetting, saveSetting } from './settings';

const SETTING = 'mail_door';

/** How reports by mail are taken in. */
export async function fetchMailDoor(db: Db): Promise<MailDoorSettings> {
  const text = await fetchSetting(db, SETTING);
  return text ? (JSON.parse(text) as MailDoorSettings) : USUAL_MAIL_DOOR;
}

export async function saveMailDoor(db: Db, settings: MailDoorSettings): Promise<void> {
  await saveSetting(db, SETTING, JSON.stringify(settings));
}
