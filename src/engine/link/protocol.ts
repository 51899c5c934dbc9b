import { existsSync, mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import type { Socket } from 'node:net';
import { tmpdir } from 'node:os';
import { dirname, join, resolve } from 'node:path';
import type { Answer, Found, Heard } from '@/channels/frame/kind';
import type { HeardAnswer } from '@/core/messages/answers';
import type { Language } from '@/core/languages/language';
import type { MessageText } from '@/core/messages/message';
import type { Notice } from '@/core/messages/notice';
import type { Finding } from '@/core/causes/finding';
import type { State } from '@/core/lifecycle/state';
import type { WatchConfig } from '@/core/settings/watch-config';
import type { PageWords } from '@/probes/diagnosis/page-words';
import type { Offer } from '@/core/settings/offer';

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
  uplinkChanged: { ask: Record<string, never>; answer: { out: boolean } };
  /** Sends a test message with settings that were not saved. */
  testChannel: {
    /** `words` are said in place of those of a test. */
    ask: { kind: string; settings: object; language?: Language; words?: MessageText };
    answer: Answer;
  };
  /** Asks the other side what may stand in a field of a channel's settings. */
  findForChannel: {
    ask: { kind: string; field: string; settings: object };
    answer: { found: Found[] } | { problem: string };
  };
  /**
   * Watches were made, changed, paused or deleted, or what routes choose them by is called otherwise; answers the states
   * they are in, null for those that are gone.
   */
  watchesChanged: { ask: { watchIds: number[]; renamed?: boolean }; answer: { states: (State | null)[] } };
  /** Reports were committed to the inbox. */
  inbox: { ask: Record<string, never>; answer: Record<string, never> };
  /** Channels were connected, changed, or sent to rest. */
  channelsChanged: { ask: Record<string, never>; answer: Record<string, never> };
  /** Says something in a room in answer to what was heard there. */
  replyInChannel: {
    ask: { channelId: number; text: string; to: Heard };
    answer: Record<string, never>;
  };
  routesChanged: { ask: Record<string, never>; answer: Record<string, never> };
  /** How it is shown that we are alive was changed. */
  proofChanged: { ask: Record<string, never>; answer: Record<string, never> };
  /** Maintenance windows were changed. */
  windowsChanged: { ask: Record<string, never>; answer: Record<string, never> };
  /** There is something to tell those who follow a page, or less than there was. */
  lettersChanged: { ask: Record<string, never>; answer: Record<string, never> };
  ping: { ask: Record<string, never>; answer: { pid: number } };
  /** Finish what is in flight and end. */
  stop: { ask: Record<string, never>; answer: Record<string, never> };
}

export type EngineCall = keyof EngineCalls;

/** What the engine tells without being asked. */
export interface EngineNews {
  watches: { id: number; state: State; at: number }[];
  deliveries: boolean;
  /** Messages for whoever has the desk open. */
  notices?: Notice[];
  /** What was answered in rooms. */
  answers?: HeardAnswer[];
}

export type Line =
  | { id: number; call: EngineCall; ask: unknown }
  | { id: number; answer: unknown }
  | { id: number; problem: string }
  | { news: EngineNews };

const LONGEST_SOCKET_PATH = 100;
/** In a data folder whose path is too long for a socket: where the engine put it instead. */
const PLACE_FILE = 'engine.place';

/** The Unix socket of the engine of a data folder; null where an engine has to make a place for it first. */
export function findEngineSocket(dataFolder: string): string | null {
  const path = join(resolve(dataFolder), 'engine.sock');
  if (path.length <= LONGEST_SOCKET_PATH) return path;
  try {
    return readFileSync(join(dataFolder, PLACE_FILE), 'utf8').trim() || null;
  } catch {
    return null;
  }
}

/**
 * The same for the engine itself. Where the folder's path is too long, the socket lies in a folder of its own that is
 * made with a random name and closed to everybody else: a place that can be guessed could be taken by somebody else
 * first.
 */
export function makeEngineSocket(dataFolder: string): string {
  const found = findEngineSocket(dataFolder);
  if (found !== null && (existsSync(dirname(found)) || found.startsWith(resolve(dataFolder)))) return found;
  const place = join(mkdtempSync(join(tmpdir(), 'calm-lantern-')), 'engine.sock');
  writeFileSync(join(dataFolder, PLACE_FILE), place, { mode: 0o600 });
  return place;
}

/** The parts that the front door starts, each a process of its own. */
export type Part = 'engine' | 'desk';

/** Notes which process is this part, for whoever has to end one that does not answer. */
export function notePid(dataFolder: string, part: Part): void {
  try {
    writeFileSync(join(dataFolder, `${part}.pid`), String(process.pid), { mode: 0o600 });
  } catch {
    // A full disk keeps no part from starting; whoever started it knows it all the same.
  }
}

/** The process that is a part; undefined where none is known, or its number belongs to another one by now. */
export function readPid(dataFolder: string, part: Part): number | undefined {
  try {
    const pid = Number(readFileSync(join(dataFolder, `${part}.pid`), 'utf8'));
    if (!Number.isInteger(pid) || pid <= 1) return undefined;
    if (!existsSync('/proc/self/cmdline')) return pid;
    return readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes(`${part}.js`) ? pid : undefined;
  } catch {
    return undefined;
  }
}

/** Ends a part at once, whoever started it; `started` is the one known where none has noted itself. */
export function killPart(dataFolder: string, part: Part, started?: number): void {
  const pid = readPid(dataFolder, part) ?? started;
  if (pid === undefined) return;
  try {
    process.kill(pid, 'SIGKILL');
  } catch {
    // It is gone already.
  }
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
