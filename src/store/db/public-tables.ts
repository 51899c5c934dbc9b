import type { FollowerKind, FollowerState } from '@/core/followers/follower';
import type { PictureUse } from '@/core/pages/picture';
import type { Affected, IncidentKind, Stage } from '@/core/pages/incident';

/** Rows of what the public is told: pages, incidents, maintenance. */

type Json = string;

export interface PageRow {
  id: number;
  slug: string;
  title: string;
  intro: string;
  sections: Json;
  created_at: number;
  /** How it looks and whom it is open to; what stands in no page of its own is the usual. */
  settings: Json;
  host: string | null;
  /** What its secret link ends in. */
  secret: string | null;
  password_hash: string | null;
  /** Sealed. */
  copy_password: string | null;
  /** Why no copy could be made the last time. */
  copy_problem: string | null;
  copied_at: number | null;
}

export interface IncidentRow {
  id: number;
  kind: IncidentKind;
  title: string;
  began: number;
  ended: number | null;
  account: string;
  account_at: number | null;
  outage_id: number | null;
  /** The section that told it by itself, until a person takes over. */
  by_itself: number | null;
}

export interface IncidentPageRow {
  incident_id: number;
  page_id: number;
}

export interface IncidentWatchRow {
  incident_id: number;
  watch_id: number;
  how: Affected;
}

/** What an update said before it was corrected at that time. */
export interface IncidentUpdateTextRow {
  update_id: number;
  at: number;
  body: string;
}

export interface IncidentUpdateRow {
  id: number;
  incident_id: number;
  at: number;
  stage: Stage;
  body: string;
  corrected_at: number | null;
}

export interface WindowRow {
  id: number;
  title: string;
  watch_ids: Json;
  begins: number;
  ends: number;
  /** How far it was told. */
  told: 'begins' | 'ends' | null;
  text: string;
  section_ids: Json;
  tag_ids: Json;
  announce_days: number;
  made_at: number;
  series_id: number | null;
  /** What the wall clock was meant to show. */
  wall: string | null;
  apart: number;
}

export interface WindowSeriesRow {
  id: number;
  title: string;
  text: string;
  watch_ids: Json;
  section_ids: Json;
  tag_ids: Json;
  announce_days: number;
  rule: string;
  zone: string;
  first: string;
  lasts_minutes: number;
  called_off: Json;
  /** Windows are made for all times before this. */
  made_until: number;
  made_at: number;
}

export interface FollowerRow {
  id: number;
  page_id: number;
  kind: FollowerKind;
  /** A mailbox in small letters, or where events are posted to. */
  address: string;
  /** What events are signed with; sealed. */
  secret: string | null;
  choice: Json;
  language: string;
  state: FollowerState;
  /** Of its own links: they are good as long as it is the same. */
  mark: string;
  /** How we know that they want it. */
  consent: string;
  made_at: number;
  asked_at: number | null;
  confirmed_at: number | null;
  /** Lasting refusals one after the other. */
  refusals: number;
  aside_why: string | null;
  /** When a letter last came back. */
  bounced_at: number | null;
}

export interface LetterRow {
  id: number;
  page_id: number;
  /** What it tells of: nothing is told twice. */
  key: string;
  facts: Json;
  /** Where below the page it leads: "incident/3"; empty for the page. */
  about: string;
  /** What is more urgent goes first. */
  urgency: number;
  made_at: number;
  due_at: number;
  /** When it was given to those who want it, or that began. */
  spread_at: number | null;
  /** The last follower that was gone through, while it is being given out. */
  spread_to: number | null;
}

export interface LetterDeliveryRow {
  id: number;
  letter_id: number;
  follower_id: number;
  state: 'waiting' | 'sent' | 'given-up';
  attempts: number;
  next_at: number;
  sent_at: number | null;
  /** The channel it was sent by. */
  sender: number | null;
  said: string;
}

export interface PublicTextRow {
  id: number;
  name: string;
  title: string;
  body: string;
  over: string;
}

export interface SelfTellingRow {
  section_id: number;
  text_id: number;
  after_minutes: number;
  page_ids: Json;
}

export interface PictureRow {
  name: string;
  use: PictureUse;
  bytes: Buffer;
  made_at: number;
}

/** Where a page was found before; a page that takes the name ends it. */
export interface FormerSlugRow {
  slug: string;
  page_id: number;
}

/** One of the three is named. */
export interface PrivateBadgeRow {
  id: number;
  secret: string;
  watch_id: number | null;
  section_id: number | null;
  tag_id: number | null;
  made_at: number;
}
