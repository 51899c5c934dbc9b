import { createHash } from 'node:crypto';
import type { Socket } from 'node:net';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import type { Answer } from '../channels/kind';
import type { Finding } from '../core/finding';
import type { State } from '../core/state';
import type { WatchConfig } from '../core/watch-config';
import type { PageWords } from '../probes/page-words';
import type { Offer } from './offers';

/** What the front door may ask of the engine, and what it answers. */
export interface EngineCalls {
  /** Runs a look for settings that were not saved. */
  tryLook: { ask: { kind: string; config: WatchConfig }; answer: Finding };
  /** Tries every way in which an address could be watched. */
  offer: { ask: { typed: string }; answer: Offer[] };
  /** Fetches a page to choose words from, and doubts those that were chosen. */
  pageWords: { ask: { settings: object }; answer: PageWords };
  /** Looks at a watch now and keeps the finding; `afresh` forgets what it compared with so far. */
  lookNow: { ask: { watchId: number; afresh?: boolean }; answer: Finding };
  /** The addresses of this machine's own line were changed. */
  lineChanged: { ask: Record<string, never>; answer: { out: boolean } };
  /** Sends a test message with settings that were not saved. */
  testChannel: { ask: { kind: string; settings: object }; answer: Answer };
  /** Watches were made, changed, paused or deleted; answers the states they are in, null for those that are gone. */
  watchesChanged: { ask: { watchIds: number[] }; answer: { states: (State | null)[] } };
  /** Reports were committed to the inbox. */
  inbox: { ask: Record<string, never>; answer: Record<string, never> };
  /** Maintenance windows were changed. */
  windowsChanged: { ask: Record<string, never>; answer: Record<string, never> };
  ping: { ask: Record<string, never>; answer: { pid: number } };
  /** Finish what is in flight and end. */
  stop: { ask: Record<string, never>; answer: Record<string, never> };
}

export type EngineCall = keyof EngineCalls;

/** What the engine tells without being asked. */
export interface EngineNews {
  watches: { id: number; state: State; at: number }[];
  deliveries: boolean;
}

export type Line =
  | { id: number; call: EngineCall; ask: unknown }
  | { id: number; answer: unknown }
  | { id: number; problem: string }
  | { news: EngineNews };

const LONGEST_SOCKET_PATH = 100;

/** The Unix socket of the engine of a data folder; elsewhere when the folder's path is too long for one. */
export function engineSocketPath(dataFolder: string): string {
  const path = join(resolve(dataFolder), 'engine.sock');
  if (path.length <= LONGEST_SOCKET_PATH) return path;
  const name = createHash('sha256').update(path).digest('hex').slice(0, 24);
  return join(tmpdir(), `calm-lantern-${name}.sock`);
}

/** Sends and receives JSON objects, one a line. A line that cannot be read ends the connection. */
export function attachLines(socket: Socket, onLine: (line: Line) => void): (line: Line) => void {
  let rest = '';
  socket.setEncoding('utf8');
  socket.on('data', (chunk: string) => {
    rest += chunk;
    for (let end = rest.indexOf('\n'); end >= 0; end = rest.indexOf('\n')) {
      const text = rest.slice(0, end);
      rest = rest.slice(end + 1);
      let line: Line;
      try {
        line = JSON.parse(text) as Line;
      } catch {
        socket.destroy();
        return;
      }
      onLine(line);
    }
  });
  return (line) => {
    if (socket.writable) socket.write(`${JSON.stringify(line)}\n`);
  };
}
