import { readClaim, signClaim } from './signed-claim';

const RADIX = 36;

/** The part of a link by which an address says that it wants messages; signed as links to take a trouble are. */
export function signConfirmLink(address: string, until: number, key: Buffer): string {
  return signClaim('confirm', `${Buffer.from(address).toString('base64url')}.${until.toString(RADIX)}`, key);
}

/** The address a link is for; null where it was not signed here, or its time is over. */
export function readConfirmLink(token: string, key: Buffer, now: number): string | null {
  const claim = readClaim('confirm', token, key);
  const [, address, until] = /^([\w-]+)\.([\da-z]{1,12})$/.exec(claim ?? '') ?? [];
  if (address === undefined || until === undefined) return null;
  return parseInt(until, RADIX) > now ? Buffer.from(address, 'base64url').toString() : null;
}
