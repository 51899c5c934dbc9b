/** How somebody outside is told. */
export const FOLLOWER_KINDS = ['mail', 'webhook', 'push'] as const;
export type FollowerKind = (typeof FOLLOWER_KINDS)[number];

/** Those that somebody may add who is not the follower: only a browser can say where it is pushed to. */
export const ADDED_KINDS = ['mail', 'webhook'] as const;

/** Asked whether they want it; told; or put aside, because nothing reaches them any more. */
export const FOLLOWER_STATES = ['asked', 'follows', 'aside'] as const;
export type FollowerState = (typeof FOLLOWER_STATES)[number];

/** What a follower wants to hear of. */
export interface FollowerChoice {
  /** Lines of the page by what they are called there; null for all of them. */
  labels: string[] | null;
  maintenance: boolean;
}

export const WHOLE_PAGE: FollowerChoice = { labels: null, maintenance: true };

/** What is shown of an address: that of a browser is a key to it, and says nothing to anybody. */
export function shownAddress({
  kind,
  address,
  id,
}: {
  kind: FollowerKind;
  address: string;
  id: number;
}): string {
  return kind === 'push' ? `browser ${id}, by ${new URL(address).host}` : address;
}

/** So many lasting refusals one after the other, and an address is put aside. */
export const REFUSALS_UNTIL_ASIDE = 3;

const MAILBOX = /^[^\s@<>",;:\\()[\]]{1,64}@(?:[a-z0-9](?:[a-z0-9-]{0,61}[a-z0-9])?\.)+[a-z0-9-]{2,63}$/i;

/** One bare mailbox as it is kept, in small letters; null for anything else, such as several or one with a name. */
export function readMailbox(text: string): string | null {
  const bare = text.trim();
  return bare.length <= 254 && MAILBOX.test(bare) && !bare.includes('..') ? bare.toLowerCase() : null;
}

/** Whether what was told is for a follower. What names no line is for everybody. */
export function wants(
  choice: FollowerChoice,
  told: { labels: readonly string[]; maintenance: boolean },
  shown: ReadonlySet<string>,
): boolean {
  if (told.maintenance && !choice.maintenance) return false;
  if (choice.labels === null || told.labels.length === 0) return true;
  // Lines that were renamed or taken off the page are no choice any more.
  const chosen = choice.labels.filter((label) => shown.has(label));
  return chosen.length === 0 || told.labels.some((label) => chosen.includes(label));
}
