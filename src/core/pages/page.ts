import type { Language } from '@/core/languages/language';
import { NO_PICTURES, type PagePictures } from './picture';
import type { Counting } from './public-line';

/** What a page shows of a line: its whole history, how it stands now, or its history and how fast it answers. */
export const SHOWS = ['history', 'state', 'times'] as const;
export type Shows = (typeof SHOWS)[number];

/** One line on a page: a watch, or several that count as one. */
export interface PageItem {
  watchIds: number[];
  /** What the public reads instead of the names of the watches. */
  label: string;
  description: string;
  shows: Shows;
  counting: Counting;
}

/** Where watches of a section come from by themselves: all of a section of the desk, or all with a tag. */
export interface Follows {
  sectionId: number | null;
  tagId: number | null;
}

export interface PageSection {
  title: string;
  items: PageItem[];
  follows: Follows | null;
}

/** Who may see a page: everybody, who has its secret link, who knows its password, or who is signed in. */
export const AUDIENCES = ['everyone', 'link', 'password', 'signed-in'] as const;
export type Audience = (typeof AUDIENCES)[number];

export const THEMES = ['both', 'light', 'dark'] as const;
/** Three pairings of the letters that ship: a serif that leads, sans alone, serif alone. */
export const LETTERS = ['lantern', 'plain', 'book'] as const;
export const DENSITIES = ['roomy', 'dense'] as const;
export const WIDTHS = ['wide', 'narrow'] as const;

export interface PageLook extends PagePictures {
  /** Whether the title stands beside the logo; a logo that holds it says it alone. */
  titleShown: boolean;
  theme: (typeof THEMES)[number];
  /** "#1f6e6a"; null for the product's own. */
  accent: string | null;
  letters: (typeof LETTERS)[number];
  density: (typeof DENSITIES)[number];
  width: (typeof WIDTHS)[number];
  /** At the top of the page. */
  links: { text: string; address: string }[];
  contact: string;
  footer: string;
  credit: boolean;
  /** Own rules against the documented class names, as they were written. */
  css: string;
}

export interface FollowByMail {
  channelId: number;
  perHour: number;
  /** Whether what cannot be delivered comes back to the door for mails. */
  bounced: boolean;
}

export interface PageSettings extends PageLook {
  /** What is spoken to visitors whose own language is not there. */
  language: Language;
  /** Whose clocks the page shows first; null for the desk's. */
  zone: string | null;
  audience: Audience;
  /** Whether search engines may list it. */
  listed: boolean;
  /** A name of its own, such as status.ternferry.test. */
  host: string | null;
  /** What leads the page instead of the sentence made from the facts, and until when. */
  lead: { words: string; until: number } | null;
  /** What other sites show when somebody links to it. */
  socialText: string;
  /** Whether a copy is kept in the folder of copies. */
  copied: boolean;
  /** The channel letters to followers are sent by, and how many an hour it takes; null where nobody follows by mail. */
  follow: FollowByMail | null;
  /** Whether visitors may be told in their browsers (Web Push). */
  pushes: boolean;
  /** Where a copy is put by HTTP instead; the address has a slash at its end. */
  copyTo: { address: string; user: string } | null;
}

export const PLAIN_LOOK: PageLook = {
  ...NO_PICTURES,
  titleShown: true,
  theme: 'both',
  accent: null,
  letters: 'lantern',
  density: 'roomy',
  width: 'wide',
  links: [],
  contact: '',
  footer: '',
  credit: true,
  css: '',
};

export const PLAIN_SETTINGS: PageSettings = {
  ...PLAIN_LOOK,
  language: 'en',
  zone: null,
  audience: 'everyone',
  listed: true,
  host: null,
  lead: null,
  socialText: '',
  copied: false,
  follow: null,
  pushes: false,
  copyTo: null,
};

/** The spans a visitor may choose for the lines. */
export const LINE_DAYS = [7, 30, 90] as const;
export type LineDays = (typeof LINE_DAYS)[number];
