// Long. A catalogue: one row type a table.
import type { OwnTroubleCode } from '@/core/causes/own-trouble';
import type { State, StretchKind } from '@/core/lifecycle/state';
import type {
  FollowerRow,
  FormerSlugRow,
  IncidentPageRow,
  IncidentRow,
  IncidentUpdateRow,
  IncidentUpdateTextRow,
  IncidentWatchRow,
  LetterDeliveryRow,
  LetterRow,
  PageRow,
  PictureRow,
  PrivateBadgeRow,
  PublicTextRow,
  SelfTellingRow,
  WindowRow,
  WindowSeriesRow,
} from './public-tables';

/**
 * The tables as they are after all migrations, for Knex: what `db('watches')` answers and takes is typed by them.
 * Times are ms since 1970, in UTC. Columns called JSON hold a text that is read where the row is turned into something
 * of the core. A test holds them against the database.
 */

/** Written as true or false; SQLite answers 1 or 0. */
type Flag = boolean | number;
type Json = string;

export interface AccountRow {
  id: number;
  email: string;
  password_hash: string;
  created_at: number;
}

export interface SessionRow {
  id: number;
  token_hash: string;
  account_id: number;
  created_at: number;
  expires_at: number;
  used_at: number;
  client: string;
  agent: string;
}

export interface ApiTokenRow {
  id: number;
  name: string;
  token_hash: string;
  created_at: number;
  last_used_at: number | null;
  revoked_at: number | null;
}

export interface SignInFailureRow {
  email: string;
  client: string;
  count: number;
  last_at: number;
}

export interface KnownClientRow {
  account_id: number;
  client: string;
  last_at: number;
}

export interface AnsweredRequestRow {
  who: string;
  key: string;
  request: string;
  /** Sealed. */
  answer: string;
  at: number;
}

export interface DeedRow {
  id: number;
  at: number;
  deed: string;
  by_kind: 'account' | 'token' | 'job' | 'link' | 'room' | 'machine';
  by_id: number | null;
  by_name: string;
  subject_kind: string;
  subject_id: number | null;
  subject_name: string;
}

export interface SettingRow {
  key: string;
  value: string;
}

export interface SectionRow {
  id: number;
  name: string;
  position: number;
  settings: Json;
  checkin_secret: string | null;
  most_new: number;
}

export interface TagRow {
  id: number;
  name: string;
  colour: string;
}

export interface WatchTagRow {
  watch_id: number;
  tag_id: number;
}

export interface FilterRow {
  id: number;
  name: string;
  query: Json;
}

export interface WatchRow {
  id: number;
  kind: string;
  name: string;
  section_id: number | null;
  config: Json;
  paused: Flag;
  checkin_key: string | null;
  position: number;
  created_at: number;
  deleted_at: number | null;
  checkin_name: string | null;
  old_checkin_key: string | null;
  old_key_until: number | null;
  old_key_used_at: number | null;
}

export interface WatchDigestRow {
  watch_id: number;
  state: State;
  words: string;
  host: string | null;
  address: string | null;
  wants_from: number | null;
}

export interface WatchStatusRow {
  watch_id: number;
  state: State;
  since: number;
  status: Json;
  last_finding: Json | null;
}

export interface StretchRow {
  watch_id: number;
  began: number;
  kind: StretchKind;
  ended: number | null;
}

export interface FindingRow {
  watch_id: number;
  at: number;
  /** Which of the recorder's VERDICTS. */
  verdict: number;
  us: number | null;
  cause: string | null;
  detail: Json | null;
  value: number | null;
}

export interface EvidenceRow {
  watch_id: number;
  at: number;
  cause: string;
  detail: Json;
  evidence: Json;
}

/** What an hour or a day came to, by its beginning. */
export interface RollupRow {
  watch_id: number;
  hour: number;
  fine: number;
  failed: number;
  histogram: Buffer;
  least: number | null;
  most: number | null;
  total: number | null;
  read: number | null;
}

/** The hours of one day (UTC), packed. */
export interface PackedHoursRow {
  watch_id: number;
  day: number;
  hours: Buffer;
}

/** What the database took at the end of a day (UTC), what is free in it left out. */
export interface FileSizeRow {
  day: number;
  bytes: number;
}

export interface OutageRow {
  id: number;
  watch_id: number;
  began: number;
  noticed: number;
  ended: number | null;
  cause: string;
  causes: Json;
  detail: Json;
  evidence: Json | null;
  follows: number | null;
  /** Why it does not count in figures. */
  left_out: string | null;
  left_out_at: number | null;
}

export interface OwnTroubleRow {
  id: number;
  code: OwnTroubleCode;
  subject: string;
  detail: Json;
  began: number;
  ended: number | null;
}

export interface LineLossRow {
  id: number;
  began: number;
  ended: number | null;
  message_id: number | null;
}

export interface ReportRow {
  id: number;
  watch_id: number;
  at: number;
  kind: string;
  code: number | null;
  run: string | null;
  method: string;
  address: string;
  output: string | null;
  run_ms: number | null;
  progress: number | null;
  agent: string | null;
  took: number | null;
}

export interface ChannelRow {
  id: number;
  kind: string;
  name: string;
  /** Its texts are sealed. */
  settings: Json;
  enabled: Flag;
  created_at: number;
  /** Who is told where it takes nothing. */
  fallback_id: number | null;
  /** What messages to it are said in (BCP 47). */
  language: string;
}

export interface MailAddressRow {
  address: string;
  asked_at: number;
  confirmed_at: number | null;
}

export interface MessageTextRow {
  id: number;
  channel_id: number | null;
  happening: string;
  title: string;
  body: string;
  trouble: string | null;
  created_at: number;
}

export interface MessageRow {
  id: number;
  kind: string;
  watch_id: number | null;
  /** Words of messages from before events were kept. */
  text: string;
  created_at: number;
  event: Json | null;
  /** The conversation it belongs to; null for what is about several, and for messages from before there were any. */
  thread: string | null;
  /** The rehearsal it belongs to. */
  drill_id: number | null;
}

export interface DrillRow {
  id: number;
  /** Ids of the watches whose trouble is made up, with what they are called. */
  watches: Json;
  happening: string;
  began: number;
  /** When it ends by itself. */
  until: number;
  ended: number | null;
  by_name: string;
}

export interface MessageOutageRow {
  message_id: number;
  outage_id: number;
}

export interface RouteRow {
  id: number;
  name: string;
  enabled: Flag;
  position: number;
  config: Json;
  created_at: number;
}

export interface HappeningRow {
  id: number;
  at: number;
  thread: string;
  happening: Json;
  /** Null until it went through the routes. */
  told_at: number | null;
}

export interface TellingRow {
  key: string;
  state: Json;
}

export interface TellingNoteRow {
  id: number;
  at: number;
  thread: string;
  channel_id: number | null;
  route_id: number | null;
  rule: string;
}

export interface DeliveryRow {
  id: number;
  message_id: number;
  channel_id: number;
  state: 'waiting' | 'delivered' | 'given-up';
  attempts: number;
  next_at: number;
  /** By which route and which rule it goes there. */
  route_id: number | null;
  rule: string | null;
  /** By what the other side knows the message. */
  ref: string | null;
  /** The channel that did not take it. */
  instead_of: number | null;
  /** What was handed over, where that was not the built-in English text. */
  words: Json | null;
}

export interface AttemptRow {
  id: number;
  delivery_id: number;
  at: number;
  ok: Flag;
  said: string;
}

declare module 'knex/types/tables.js' {
  interface Tables {
    accounts: AccountRow;
    sessions: SessionRow;
    api_tokens: ApiTokenRow;
    sign_in_failures: SignInFailureRow;
    known_clients: KnownClientRow;
    answered_requests: AnsweredRequestRow;
    deeds: DeedRow;
    settings: SettingRow;
    sections: SectionRow;
    tags: TagRow;
    watch_tags: WatchTagRow;
    filters: FilterRow;
    watches: WatchRow;
    watch_status: WatchStatusRow;
    watch_digests: WatchDigestRow;
    stretches: StretchRow;
    findings: FindingRow;
    evidence: EvidenceRow;
    rollups: RollupRow;
    rollups_by_day: RollupRow;
    packed_hours: PackedHoursRow;
    file_sizes: FileSizeRow;
    outages: OutageRow;
    own_troubles: OwnTroubleRow;
    line_losses: LineLossRow;
    reports: ReportRow;
    channels: ChannelRow;
    messages: MessageRow;
    drills: DrillRow;
    message_outages: MessageOutageRow;
    routes: RouteRow;
    happenings: HappeningRow;
    telling: TellingRow;
    telling_notes: TellingNoteRow;
    deliveries: DeliveryRow;
    message_texts: MessageTextRow;
    mail_addresses: MailAddressRow;
    attempts: AttemptRow;
    pages: PageRow;
    incidents: IncidentRow;
    incident_pages: IncidentPageRow;
    incident_watches: IncidentWatchRow;
    incident_updates: IncidentUpdateRow;
    incident_update_texts: IncidentUpdateTextRow;
    windows: WindowRow;
    window_series: WindowSeriesRow;
    public_texts: PublicTextRow;
    pictures: PictureRow;
    private_badges: PrivateBadgeRow;
    former_slugs: FormerSlugRow;
    self_tellings: SelfTellingRow;
    followers: FollowerRow;
    letters: LetterRow;
    letter_deliveries: LetterDeliveryRow;
  }
}
