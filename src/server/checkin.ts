import type { IncomingMessage, ServerResponse } from 'node:http';
import type { Knex } from 'knex';
import { newCheckinKey } from '../accounts/secrets';
import { blankSecrets } from '../core/blank-secrets';
import { FloodGate } from '../core/flood';
import { composeMessage } from '../core/message';
import { OutputKeeper } from '../core/output';
import { readReport } from '../core/report-query';
import { capitalise } from '../core/state-text';
import {
  fetchDoorByKey,
  fetchDoorByName,
  saveFirstContact,
  saveOldKeyUsed,
  type Door,
  type OpenSection,
} from '../store/checkin-doors';
import { saveReports, type NewReport } from '../store/reports';

const LONGEST_TARGET = 1000;
const LONGEST_AGENT = 200;
/** Of a body longer than what is kept, this much is read, so that the sender gets to see the answer. */
const MOST_READ_BYTES = 20_000_000;

/** One job that reports more often than this in a row is slowed: no schedule asks for it. */
const REPORTS = { burst: 300, perSecond: 50, longestMs: 2000 };
/** Guessing at addresses and sending what cannot be read is slowed much sooner. */
const MISTAKES = { burst: 20, perSecond: 5, longestMs: 5000 };

/** Reads the whole body; its beginning and its end are kept. */
function readBody(request: IncomingMessage): Promise<string | null> {
  return new Promise((resolve, reject) => {
    const kept = new OutputKeeper();
    request.on('data', (chunk: Buffer) => {
      kept.add(chunk);
      if (kept.size > MOST_READ_BYTES) request.destroy();
    });
    request.on('error', reject);
    request.on('aborted', () => reject(new Error('aborted')));
    request.on('end', () => {
      const text = kept.text();
      resolve(text === null ? null : blankSecrets(text));
    });
  });
}

function reply(response: ServerResponse, status: number, line: string): void {
  response.writeHead(status, {
    'content-type': 'text/plain; charset=utf-8',
    'cache-control': 'no-store',
    'content-length': Buffer.byteLength(line) + 1,
  });
  response.end(`${line}\n`);
}

/** A random key, and a readable name under the secret of a section. */
const KEY = /^[\w-]{16,64}$/;
const READABLE = /^([\w-]{16,64})\/([a-z0-9](?:[a-z0-9._-]{0,58}[a-z0-9])?)$/;
const MOST_DOORS = 20_000;
const OLD_KEY_NOTE_MS = 60_000;

export interface CheckinDeskOptions {
  db: Knex;
  now: () => number;
  zone: string;
  /** The address links in messages begin with. */
  linkBase: string;
  onCommitted: () => void;
  /** A job made its own check-in; resolves once the engine knows it. */
  onMade: (watchId: number) => Promise<void>;
}

interface Waiting {
  report: NewReport;
  resolve: () => void;
  reject: (error: unknown) => void;
}

/**
 * The check-in address. A report is answered with 2xx only after its commit; all that gathered since the last
 * commit goes into the next one.
 */
export class CheckinDesk {
  private readonly doors = new Map<string, Door>();
  private readonly reports = new FloodGate(REPORTS);
  private readonly mistakes = new FloodGate(MISTAKES);
  private readonly oldKeyNoted = new Map<number, number>();
  private waiting: Waiting[] = [];
  private committing: Promise<void> | null = null;

  constructor(private readonly options: CheckinDeskOptions) {}

  forgetKeys(): void {
    this.doors.clear();
  }

  async handle(request: IncomingMessage, response: ServerResponse, client: string): Promise<void> {
    const target = request.url ?? '';
    const refuse = async (status: number, line: string) => {
      await this.slowDown(this.mistakes, client);
      reply(response, status, line);
    };
    if (target.length > LONGEST_TARGET) return refuse(414, 'Expected a shorter address.');
    if (!['GET', 'POST', 'HEAD'].includes(request.method ?? '')) {
      response.setHeader('allow', 'GET, POST, HEAD');
      return refuse(405, 'Expected GET, POST or HEAD.');
    }
    const url = new URL(target, 'http://front.door');
    const door = await this.doorOf(url.pathname.slice('/in/'.length), client);
    if (!door) return refuse(404, 'There is no check-in at this address.');
    if (door.methods === 'post' && request.method !== 'POST') {
      response.setHeader('allow', 'POST');
      return refuse(405, 'Expected POST: nothing else counts at this address.');
    }
    const said = readReport(url.searchParams);
    if (typeof said === 'string') return refuse(400, said);
    let output: string | null;
    try {
      output = await readBody(request);
    } catch {
      response.destroy();
      return;
    }
    const { watchId } = door;
    const at = this.options.now();
    const agent = request.headers['user-agent']?.slice(0, LONGEST_AGENT) ?? null;
    const report = { watchId, at, ...said, method: request.method!, address: client, agent, output };
    try {
      await this.commit(report);
      if (door.oldUntil !== null) await this.noteOldKey(watchId, at);
    } catch {
      return reply(response, 503, 'The check-in could not be kept. Try again.');
    }
    await this.slowDown(this.reports, `${client} ${watchId}`);
    reply(response, 200, 'ok');
  }

  /** Makes whoever floods wait; others go on as before. */
  private async slowDown(gate: FloodGate, sender: string): Promise<void> {
    const ms = gate.waitMs(sender, performance.now());
    if (ms > 0) await new Promise((resolve) => setTimeout(resolve, ms));
  }

  private async doorOf(path: string, client: string): Promise<Door | null> {
    const now = this.options.now();
    const known = this.doors.get(path);
    if (known && (known.oldUntil === null || known.oldUntil > now)) return known;
    const { db } = this.options;
    const [, secret, name] = READABLE.exec(path) ?? [];
    let door: Door | OpenSection | null = null;
    if (secret !== undefined && name !== undefined) {
      door = await fetchDoorByName(db, secret, name);
      if (door && 'mostNew' in door) return this.firstContact(door, name, client);
    } else if (KEY.test(path)) door = await fetchDoorByKey(db, path, now);
    if (this.doors.size >= MOST_DOORS) this.doors.clear();
    if (door) this.doors.set(path, door);
    return door;
  }

  /** An unknown, but well-formed name under a section that is open to new ones makes its own check-in. */
  private async firstContact(section: OpenSection, name: string, client: string): Promise<Door | null> {
    if (section.mostNew === 0) return null;
    const { db, now, linkBase, zone, onMade } = this.options;
    const spaced = name.replaceAll(/[-_.]+/g, ' ').trim();
    const watchName = capitalise(spaced === '' ? name : spaced);
    const event = { kind: 'new-checkin' as const, section: section.name, address: client };
    const watchId = await saveFirstContact(db, section, {
      checkinName: name,
      watchName,
      checkinKey: newCheckinKey(),
      at: now(),
      text: (id) => composeMessage(event, { watchName, link: `${linkBase}/watches/${id}`, zone }),
    });
    if (watchId === null) return null;
    await onMade(watchId);
    return { watchId, methods: 'any', oldUntil: null };
  }

  /** Notes that somebody still uses the old key, at most once a minute. */
  private async noteOldKey(watchId: number, at: number): Promise<void> {
    if (at - (this.oldKeyNoted.get(watchId) ?? -Infinity) < OLD_KEY_NOTE_MS) return;
    this.oldKeyNoted.set(watchId, at);
    await saveOldKeyUsed(this.options.db, watchId, at);
  }

  private commit(report: NewReport): Promise<void> {
    return new Promise((resolve, reject) => {
      this.waiting.push({ report, resolve, reject });
      this.committing ??= new Promise<void>((next) => setImmediate(next))
        .then(() => this.commitWaiting())
        .finally(() => {
          this.committing = null;
        });
    });
  }

  private async commitWaiting(): Promise<void> {
    while (this.waiting.length > 0) {
      const batch = this.waiting;
      this.waiting = [];
      try {
        await saveReports(
          this.options.db,
          batch.map((w) => w.report),
        );
        for (const w of batch) w.resolve();
        this.options.onCommitted();
      } catch (error) {
        for (const w of batch) w.reject(error);
      }
    }
  }

  /** Resolves once everything accepted so far is committed. */
  async close(): Promise<void> {
    await this.committing;
  }
}
