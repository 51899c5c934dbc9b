import type { Consent } from '@/channels/frame/house';
import { DAY_MS } from '@/core/time/units';
import type { Db } from '@/store/db/connection';
import type { Vault } from '@/store/db/vault';
import { forgetAsked, isConfirmed, mailboxOf, saveAsked } from '@/store/messages/addresses';
import { signConfirmLink } from '@/store/messages/confirm-links';
import { ensureTakeKey } from '@/store/messages/take-links';

/** An address is asked no more often. */
const ASKED_EVERY_MS = DAY_MS;
/** The link in what it is asked by is good for so long. */
const GOOD_FOR_MS = 14 * DAY_MS;

interface ConsentOptions {
  db: Db;
  vault: Vault;
  now: () => number;
  linkBase: string;
}

/** Whether mail addresses want messages: nobody is sent any who did not say so. */
export function consentOf({ db, vault, now, linkBase }: ConsentOptions): Consent {
  return {
    isGiven: (address) => isConfirmed(db, address),
    ask: async (address) => {
      const at = now();
      const key = await ensureTakeKey(db, vault);
      if (!(await saveAsked(db, address, at, at - ASKED_EVERY_MS))) return null;
      return `${linkBase}/confirm/${signConfirmLink(mailboxOf(address), at + GOOD_FOR_MS, key)}`;
    },
    forget: (address) => forgetAsked(db, address),
  };
}
