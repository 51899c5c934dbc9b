import { string } from 'yup';
import type { Principal } from '@/cases/frame/principal';
import { Refusal } from '@/cases/frame/refusal';
import { changes } from '@/cases/frame/use-case';
import { validateBody } from '@/cases/frame/validate';
import type { World } from '@/cases/frame/world';
import { strictObject } from '@/cases/schemas/common';
import type { Db } from '@/store/db/connection';
import { mail, mailboxesOf } from '@/channels/kinds/mail';
import { fetchSetting, saveSetting } from '@/store/db/settings';
import { openWhatOpens, type Vault } from '@/store/db/vault';
import { fetchChannels } from '@/store/messages/channels';
import { saveConfirmed } from '@/store/messages/addresses';
import { readConfirmLink } from '@/store/messages/confirm-links';
import { ensureTakeKey } from '@/store/messages/take-links';

/** The address a link in a mail is for; null where the link was not made here, or is too old. */
export async function readConsentLink(
  db: Db,
  world: Pick<World, 'vault' | 'now'>,
  token: string,
): Promise<string | null> {
  return readConfirmLink(token, await ensureTakeKey(db, world.vault), world.now());
}

const linkSchema = strictObject({
  token: string().required('Expected the end of the link, got nothing.').max(500),
});

/** Says that an address wants messages. Whoever holds the link got the mail that asked. */
export const confirmAddress = changes(
  'confirmAddress',
  'operate',
  ({ body }: { body: unknown }) => validateBody<{ token: string }>(linkSchema, body),
  async (act, { token }): Promise<void> => {
    const address = await readConsentLink(act.trx, act.world, token);
    if (address === null)
      throw new Refusal('link.over', 'This link is too old, or was not made here. Ask for a new one.');
    await saveConfirmed(act.trx, address, act.now);
    act.about({ kind: 'address', id: null, name: address });
    // What waited for it goes at once.
    act.afterwards(() => act.world.engine.call('channelsChanged', {}).catch(() => undefined));
  },
);

/** What whoever holds such a link may do. */
export const CONFIRMER: Principal = {
  type: 'link',
  name: 'the link in a mail',
  rights: new Set(['operate']),
};

const KNOWN = 'mail_addresses_known';

/** Those who were sent messages before anybody was asked go on getting them: done once. */
export async function keepKnownAddresses(db: Db, vault: Vault, now: number): Promise<void> {
  if ((await fetchSetting(db, KNOWN)) !== null) return;
  for (const { kind, settings } of await fetchChannels(db)) {
    if (kind !== mail.id) continue;
    const { to = '' } = openWhatOpens(vault, settings) as { to?: string };
    // No key opens it now; it is looked at again once one does.
    if (mailboxesOf({ to }).length === 0) return;
    for (const address of mailboxesOf({ to })) await saveConfirmed(db, address, now);
  }
  await saveSetting(db, KNOWN, 'yes');
}
