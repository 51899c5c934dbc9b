import { randomBytes } from 'node:crypto';
import type { Db } from '@/store/db/connection';
import { ensureSecret, type Vault } from '@/store/db/vault';
import { readClaim, signClaim } from './signed-claim';

/** What a link in a message lets somebody take: one trouble of one watch, for so long. */
export interface TakeLink {
  watchId: number;
  /** When the trouble was noticed: a link to one trouble takes no other. */
  openedAt: number;
  until: number;
  /** The rehearsal the trouble is made up for; null for a real one. */
  drill: number | null;
}

const KEY = 'take_key';
const RADIX = 36;

/** The key links are signed with; one is made where there is none. Throws where no key opens it. */
export async function ensureTakeKey(db: Db, vault: Vault): Promise<Buffer> {
  const make = () => randomBytes(32).toString('base64url');
  return Buffer.from(await ensureSecret(db, vault, KEY, make), 'base64url');
}

/** The part of an address that lets somebody take it: what it is about, signed. */
export function signTakeLink({ watchId, openedAt, until, drill }: TakeLink, key: Buffer): string {
  const parts = [watchId, openedAt, until, ...(drill === null ? [] : [drill])];
  const claim = parts.map((one) => one.toString(RADIX)).join('.');
  return signClaim('take', claim, key);
}

/** What a link is about; null where it was not signed here, or its time is over. */
export function readTakeLink(token: string, key: Buffer, now: number): TakeLink | null {
  const claim = readClaim('take', token, key);
  if (claim === null || !/^[\da-z]{1,12}(?:\.[\da-z]{1,12}){2,3}$/.test(claim)) return null;
  const [watchId, openedAt, until, drill = null] = claim.split('.').map((one) => parseInt(one, RADIX)) as [
    number,
    number,
    number,
    number?,
  ];
  return until > now ? { watchId, openedAt, until, drill } : null;
}
