import { createHash, randomBytes } from 'node:crypto';

/** A random secret of 192 bits, safe in addresses. */
export function newSecret(): string {
  return randomBytes(24).toString('base64url');
}

/** A check-in key: 160 bits in lower-case base 32 (RFC 4648 alphabet), easy to read out and to paste. */
export function newCheckinKey(): string {
  const alphabet = 'abcdefghijklmnopqrstuvwxyz234567';
  return [...randomBytes(32)].map((byte) => alphabet[byte & 31]).join('');
}

/** A secret that is typed by a person: 80 random bits in four groups. */
export function newSpokenSecret(): string {
  return newCheckinKey()
    .slice(0, 16)
    .replace(/(.{4})(?=.)/g, '$1-');
}

/** Secrets are random, so one round of SHA-256 suffices to keep them. */
export function hashSecret(secret: string): string {
  return createHash('sha256').update(secret).digest('hex');
}
