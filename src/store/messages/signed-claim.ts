import { createHmac, timingSafeEqual } from 'node:crypto';

const MAC_BYTES = 16;
/** No link holds more. */
const MOST_TOKEN = 500;

function macOf(purpose: string, claim: string, key: Buffer): string {
  const mac = createHmac('sha256', key).update(`${purpose} ${claim}`).digest();
  return mac.subarray(0, MAC_BYTES).toString('base64url');
}

/** A claim with an HMAC-SHA256 over it and what it is for, cut to 128 bits: the end of a link. */
export function signClaim(purpose: string, claim: string, key: Buffer): string {
  return `${claim}.${macOf(purpose, claim, key)}`;
}

/** The claim a link holds; null where it was not signed with this key for this purpose. */
export function readClaim(purpose: string, token: string, key: Buffer): string | null {
  const [, claim, mac] = token.length > MOST_TOKEN ? [] : (/^([\w.-]+)\.([\w-]{22})$/.exec(token) ?? []);
  if (claim === undefined || mac === undefined) return null;
  // Compared as it is written: of its last letter not every bit counts.
  return timingSafeEqual(Buffer.from(mac), Buffer.from(macOf(purpose, claim, key))) ? claim : null;
}
