import { createHmac, timingSafeEqual } from 'node:crypto';
import type { Db } from '@/store/db/connection';
import { fetchFollower, type Follower } from './followers';

const MARK_BYTES = 12;

function markOf({ id, mark }: Pick<Follower, 'id' | 'mark'>, key: Buffer): string {
  const mac = createHmac('sha256', key).update(`bounce ${id}.${mark}`).digest();
  // In hex, for mail servers on the way may change the case of an address.
  return mac.subarray(0, MARK_BYTES).toString('hex');
}

/** Where what cannot be delivered to a follower comes back to: known by them, and made by nobody else. */
export function bounceAddress(follower: Pick<Follower, 'id' | 'mark'>, key: Buffer, domain: string): string {
  return `back-${follower.id}-${markOf(follower, key)}@${domain}`;
}

/** Of whom something came back, by the part before the at; null where that is no address of ours. */
export async function fetchBounced(db: Db, local: string, key: Buffer): Promise<Follower | null> {
  const [, id, mark] = /^back-([1-9]\d{0,14})-([0-9a-f]{24})$/.exec(local.toLowerCase()) ?? [];
  const follower = id === undefined ? null : await fetchFollower(db, Number(id));
  if (!follower) return null;
  return timingSafeEqual(Buffer.from(markOf(follower, key)), Buffer.from(mark!)) ? follower : null;
}
