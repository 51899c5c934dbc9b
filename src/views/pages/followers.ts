import type { FollowerState } from '@/core/followers/follower';
import type { Db } from '@/store/db/connection';
import { countFollowers, fetchFollowers, type Follower } from '@/store/followers/followers';
import { countLetters, fetchUnspread } from '@/store/followers/letters';
import { fetchChannel } from '@/store/messages/channels';
import type { Page } from '@/store/pages/pages';

/** So many stand on one screen; the rest is found by typing, or in the file. */
export const MOST_FOLLOWERS_SHOWN = 100;

export interface FollowersView {
  counts: Record<FollowerState, number>;
  letters: { waiting: number; sent: number; givenUp: number };
  followers: Omit<Follower, 'secret' | 'mark'>[];
  more: boolean;
  /** Through which channel mails go; null where none does. */
  channel: { name: string; enabled: boolean } | null;
}

/** Who follows a page, and how far what they are told has got. */
export async function fetchFollowersView(
  db: Db,
  page: Page,
  { state, words }: { state?: FollowerState; words?: string },
): Promise<FollowersView> {
  const limit = MOST_FOLLOWERS_SHOWN + 1;
  const found = await fetchFollowers(
    db,
    { pageId: page.id, ...(state && { state }), ...(words && { words }) },
    { limit },
  );
  const channel = page.follow && (await fetchChannel(db, page.follow.channelId));
  return {
    counts: (await countFollowers(db, [page.id])).get(page.id)!,
    letters: await countLetters(db, page.id),
    followers: found.slice(0, MOST_FOLLOWERS_SHOWN).map(({ secret: _, mark: __, ...one }) => one),
    more: found.length > MOST_FOLLOWERS_SHOWN,
    channel: channel ? { name: channel.name, enabled: channel.enabled } : null,
  };
}

/** When an incident goes out to followers, where it has not yet; null where nothing waits. */
export async function fetchPendingLetters(
  db: Db,
  incidentId: number,
): Promise<{ dueAt: number; pages: number } | null> {
  const letters = await fetchUnspread(db, `i${incidentId}.`);
  if (letters.length === 0) return null;
  return {
    dueAt: Math.max(...letters.map(({ dueAt }) => dueAt)),
    pages: new Set(letters.map(({ pageId }) => pageId)).size,
  };
}
