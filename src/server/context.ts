import type { EventEmitter } from 'node:events';
import type { Knex } from 'knex';
import type { Environment } from '@/core/settings/environment';
import type { EngineCall, EngineCalls } from '@/engine/link/protocol';
import type { Vault } from '@/store/db/vault';
import type { CalendarReader } from '@/server/workers/calendar-reader';
import type { MailEndpointPort } from '@/server/checkins/mail-endpoint';

/** What the pages need of the engine. */
export interface EnginePort {
  readonly connected: boolean;
  call: <C extends EngineCall>(call: C, ask: EngineCalls[C]['ask']) => Promise<EngineCalls[C]['answer']>;
}

/** What the front door hands to everything it serves. */
export interface ServerContext {
  db: Knex;
  engine: EnginePort;
  vault: Vault;
  environment: Environment;
  mailEndpoint: MailEndpointPort;
  calendars: Pick<CalendarReader, 'daysOff'>;
  /** Emits "watches" (EngineNews['watches']), "deliveries", "mails", "pages" (a page id). */
  hub: EventEmitter;
  /** What has to be typed with the first account by whoever is not at this machine. */
  firstCode: string;
  /** Forgets which check-in key belongs to which watch. */
  forgetKeys: () => void;
}

const KEY = Symbol.for('calm-lantern.context');
const holder = globalThis as { [KEY]?: ServerContext };

/** Pages are bundled apart from the front door but run in its process: the global object joins the two. */
export function setServerContext(context: ServerContext): void {
  holder[KEY] = context;
}

export function serverContext(): ServerContext {
  const context = holder[KEY];
  if (!context) throw new Error('The application was not started through its front door (npm start).');
  return context;
}
