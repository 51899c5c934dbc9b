import { readClaim, signClaim } from '@/store/messages/signed-claim';
import type { Follower } from './followers';

/** What the links in letters lead to: saying yes, one's own choice, and the end of it. */
export const LINK_PURPOSES = ['yes', 'own', 'off'] as const;
export type LinkPurpose = (typeof LINK_PURPOSES)[number];

/** The part of a link by which a follower is known; it is good as long as the follower has the same mark. */
export function signFollowLink(
  purpose: LinkPurpose,
  { id, mark }: Pick<Follower, 'id' | 'mark'>,
  key: Buffer,
): string {
  return signClaim(`follow ${purpose}`, `${id}.${mark}`, key);
}

/** Whom a link is for; null where it was not signed here, or for something else. */
export function readFollowLink(
  purpose: LinkPurpose,
  token: string,
  key: Buffer,
): { id: number; mark: string } | null {
  const claim = readClaim(`follow ${purpose}`, token, key);
  const [, id, mark] = /^(\d{1,15})\.([\w-]{12})$/.exec(claim ?? '') ?? [];
  return id === undefined || mark === undefined ? null : { id: Number(id), mark };
}
