import type { LookupFunction } from 'node:net';
import type { Knex } from 'knex';
import type { CalendarRead } from '@/core/maintenance/calendar-read';
import type { MessagePlace } from '@/core/messages/kept-message';
import type { MailEndpointSettings, MailReading } from '@/core/reports/mail-words';
import type { EngineCall, EngineCalls } from '@/engine/link/protocol';
import type { Compared } from '@/core/lifecycle/relive';
import type { Rules } from '@/core/lifecycle/status';
import type { Replayed } from '@/core/telling/ahead/replay';
import type { Route } from '@/core/telling/route';
import type { Arrival } from '@/core/pages/host-check';
import type { PictureUse } from '@/core/pages/picture';
import type { Page } from '@/store/pages/pages';
import type { MadePicture } from '@/store/pages/pictures';
import type { Vault } from '@/store/db/vault';
import type { PublicIncident } from '@/views/pages/public-incidents';
import type { Principal } from './principal';

/** What is needed of the engine. */
export interface EnginePort {
  isConnected: () => Promise<boolean> | boolean;
  call: <C extends EngineCall>(call: C, ask: EngineCalls[C]['ask']) => Promise<EngineCalls[C]['answer']>;
}

/** A mail that came in, as the desk shows it. */
export interface SeenMail {
  at: number;
  from: string;
  client: string;
  subject: string | null;
  /** What it was taken for by each watch it is for; empty where it was refused. */
  taken: (MailReading & { watchId: number })[];
  refused: string | null;
}

/** How the door for reports by mail stands. */
export interface MailEndpointState {
  /** What its addresses end in; null while no mail is taken in. */
  domain: string | null;
  /** Why no mail is taken in though it should be. */
  problem: string | null;
  /** The last that came, the newest first. */
  seen: readonly SeenMail[];
}

/** What is needed of the door for reports by mail. */
export interface MailEndpointPort {
  state: () => Promise<MailEndpointState> | MailEndpointState;
  /** Opens, moves or shuts; throws, and stays as it was, where it cannot listen. */
  change: (settings: MailEndpointSettings) => Promise<void>;
}

interface PastSpan {
  since: number;
  until: number;
}

/** Sets of routes, each of which is tried on the same past. */
export interface RoutesAsk extends PastSpan {
  zone: string;
  /** Channels that take messages. */
  channels: number[];
  tries: Route[][];
}

/** One watch, as it is and as it would be. */
export interface WatchAsk extends PastSpan {
  watchId: number;
  now: Rules;
  then: Rules;
}

/** What one watch would have gone through, and from when on that is known. */
export interface WatchTried extends Compared {
  from: number;
}

/** Routes and watches, tried on what was. */
export interface PastPort {
  tryRoutes: (ask: RoutesAsk) => Promise<Replayed[] | null>;
  tryWatch: (ask: WatchAsk) => Promise<WatchTried | null>;
}

/** What somebody is typing of a page. */
export interface PageDraft {
  page: Page;
  /** An incident that is written for it. */
  draft: PublicIncident | null;
  who: Principal;
}

/** Pages as they are being typed, each for whoever types it. */
export interface PreviewPort {
  /** Keeps one for a while; the mark it is found by. */
  keep: (draft: PageDraft) => Promise<string> | string;
}

/** Requests of our own that are to come back to us. */
export interface ArrivalPort {
  /** A path to ask for. */
  expect: () => Promise<string> | string;
  /** How somebody came by it, null where nobody did; from then on it is not expected any more. */
  came: (path: string) => Promise<Arrival | null> | Arrival | null;
}

/** Those who hear of changes: open desks and pages. */
export interface Hearers {
  /** Of "pages" (the id of one) or "plans"; what it gives is settled once they have heard. */
  emit: (event: 'pages' | 'plans', pageId?: number) => unknown;
}

/** Pictures from outside, made into what is shown. */
export interface PicturePort {
  prepare: (bytes: Uint8Array, use: PictureUse) => Promise<MadePicture | { problem: string }>;
}

/** iCalendar files from outside, read within bounds. */
export interface CalendarPort {
  daysOff: (text: string, from: string) => Promise<{ days: string[] } | { problem: string }>;
  maintenance: (
    text: string,
    by: { zone: string; now: number },
  ) => Promise<{ read: CalendarRead } | { problem: string }>;
}

/** All that a use case may touch besides its input. */
export interface World {
  db: Knex;
  engine: EnginePort;
  vault: Vault;
  /** How messages say times, and where their links lead. */
  place: MessagePlace;
  mailEndpoint: MailEndpointPort;
  calendars: CalendarPort;
  past: PastPort;
  previews: PreviewPort;
  /** Whether browsers of visitors may be pushed to by services of this network. */
  nearPushes: boolean;
  pictures: PicturePort;
  arrivals: ArrivalPort;
  /** How names are looked up here. */
  lookup: LookupFunction;
  hub: Hearers;
  /** Forgets which check-in key belongs to which watch; what it gives is settled once that is done. */
  forgetKeys: () => unknown;
  now: () => number;
  /** What went wrong where nobody waits for an answer any more. */
  onError: (error: unknown) => void;
}
