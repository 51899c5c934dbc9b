import { createHash } from 'node:crypto';

/** Made once for what stands on public pages. */
const NAMESPACE = Buffer.from('8d0f6a52c7b44e0e9a4b1f37d25c8e61', 'hex');

/**
 * By what readers of feeds know a page, or what stands on it: the same whatever address it is found at (RFC 4287, 4.2.6).
 * A name-based UUID (RFC 9562, 5.5).
 */
export function entryId(page: { id: number; createdAt: number }, part = ''): string {
  const hash = createHash('sha1').update(NAMESPACE).update(`${page.createdAt}/${page.id}/${part}`).digest();
  hash[6] = (hash[6]! & 0x0f) | 0x50;
  hash[8] = (hash[8]! & 0x3f) | 0x80;
  const hex = hash.toString('hex');
  const groups = [hex.slice(0, 8), hex.slice(8, 12), hex.slice(12, 16), hex.slice(16, 20), hex.slice(20, 32)];
  return `urn:uuid:${groups.join('-')}`;
}
