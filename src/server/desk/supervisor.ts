import { spawn, type ChildProcess } from 'node:child_process';
import { rmSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { killPart, makeEngineSocket } from '@/engine/link/protocol';
import type { DoorCall, DoorHandlers, FromDesk, ToDesk } from './protocol';

const BEAT_MS = 1_000;
/** Pages are not asked of a desk that has said nothing for this long; it may only be drawing something large. */
const SILENT_AFTER_MS = 10_000;
/** One that has said nothing for this long hangs, and is replaced. */
const FROZEN_AFTER_MS = 30_000;
/** Loading the pages takes a second or two; on a machine that does much else, more. */
const LONGEST_OPENING_MS = 120_000;
const FIRST_RETRY_MS = 100;
const LONGEST_RETRY_MS = 5_000;
/** One that lived for so long was well; the next is started at once. */
const WELL_AFTER_MS = 20_000;
const STOP_LIMIT_MS = 10_000;
/** One that answers nobody for so long, or ends so often within a while, does not stay up. */
const AWAY_FOR_MS = 60_000;
const ENDS = 4;
const ENDS_WITHIN_MS = 10 * 60_000;
/** Beside what its scripts may keep, a desk holds code, the database's pages, and what is on its way. */
const BESIDE_HEAP_MB = 400;
/** So many beats in a row above what it may take, and a new desk takes over from it. */
const BEATS_TOO_LARGE = 5;

interface Desk {
  child: ChildProcess;
  socket: string;
  bornAt: number;
  open: boolean;
  answeredAt: number;
  beatsTooLarge: number;
}

export interface DeskOptions {
  script: string;
  dataFolder: string;
  /** What its scripts may keep in memory. */
  heapMb: number;
  firstCode: string;
  handlers: DoorHandlers;
  say: (text: string) => void;
  silentAfterMs?: number;
  frozenAfterMs?: number;
}

/**
 * Starts the process that draws pages and answers the API, watches it, and replaces it where it dies, hangs, or takes
 * too much memory. While there is none, `socket` is null.
 */
export class DeskSupervisor {
  private current: Desk | null = null;
  /** One that is being started, to follow the current one or in its place. */
  private coming: Desk | null = null;
  private stopping = false;
  private turn = 0;
  private wasOpen = false;
  private retryMs = FIRST_RETRY_MS;
  private retry: NodeJS.Timeout | null = null;
  private waiting: (() => void)[] = [];
  private readonly beats: NodeJS.Timeout;
  private beatAt = performance.now();
  /** When a desk ended of itself, of late. */
  private ends: number[] = [];
  private answeredAt = performance.now();

  constructor(private readonly options: DeskOptions) {
    this.beats = setInterval(() => this.beat(), BEAT_MS);
    this.beats.unref();
  }

  /** Where the desk answers; null while nobody does. */
  get socket(): string | null {
    const { current } = this;
    const { silentAfterMs = SILENT_AFTER_MS } = this.options;
    if (!current || performance.now() - current.answeredAt > silentAfterMs) return null;
    return current.socket;
  }

  /** Whether it does not stay up, though it is started again and again. */
  get isFailing(): boolean {
    const now = performance.now();
    if (this.socket !== null) this.answeredAt = now;
    this.ends = this.ends.filter((at) => now - at < ENDS_WITHIN_MS);
    return now - this.answeredAt > AWAY_FOR_MS || this.ends.length >= ENDS;
  }

  /** Whether there has been none yet: whoever asks for a page then waits for the first. */
  get isFirst(): boolean {
    return !this.wasOpen;
  }

  /** Resolves once a desk answers, or the time is over. */
  opened(limitMs: number): Promise<void> {
    if (this.socket !== null) return Promise.resolve();
    return new Promise((resolve) => {
      const limit = setTimeout(resolve, limitMs);
      this.waiting.push(() => {
        clearTimeout(limit);
        resolve();
      });
    });
  }

  start(): void {
    // One whose front door was killed, and which could not notice.
    killPart(this.options.dataFolder, 'desk');
    this.spawn();
  }

  private spawn(): void {
    const { script, dataFolder, heapMb, firstCode, say } = this.options;
    this.turn += 1;
    const socket = join(dirname(makeEngineSocket(dataFolder)), `desk-${this.turn % 2}.sock`);
    rmSync(socket, { force: true });
    // A group of its own: Ctrl-C reaches the front door only, which then stops the desk in good order.
    const child = spawn(process.execPath, [`--max-old-space-size=${heapMb}`, script], {
      stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
      serialization: 'advanced',
      detached: true,
    });
    const now = performance.now();
    const desk: Desk = { child, socket, bornAt: now, open: false, answeredAt: now, beatsTooLarge: 0 };
    this.coming = desk;
    child.on('message', (line: FromDesk) => void this.take(desk, line));
    child.once('error', (error) => {
      say(`the desk could not be started: ${error.message}`);
      this.gone(desk);
    });
    child.once('exit', (code, signal) => {
      if (!this.stopping && this.isOurs(desk)) say(`the desk is gone (${signal ?? code}); starting it again`);
      this.gone(desk);
    });
    this.send(desk, { type: 'begin', socket, firstCode });
  }

  private isOurs(desk: Desk): boolean {
    return desk === this.current || desk === this.coming;
  }

  private gone(desk: Desk): void {
    if (!this.isOurs(desk)) return;
    if (this.current === desk) this.current = null;
    if (this.coming === desk) this.coming = null;
    if (!this.stopping) this.ends = [...this.ends, performance.now()].slice(-ENDS);
    if (this.stopping || this.coming || this.retry) return;
    const wasWell = performance.now() - desk.bornAt > WELL_AFTER_MS;
    if (wasWell) this.retryMs = FIRST_RETRY_MS;
    this.retry = setTimeout(() => {
      this.retry = null;
      if (!this.stopping) this.spawn();
    }, this.retryMs);
    this.retryMs = Math.min(LONGEST_RETRY_MS, this.retryMs * 2);
  }

  private send({ child }: Desk, line: ToDesk): void {
    // One that is gone is noticed by its end; what was to be said to it matters to nobody.
    if (child.connected) child.send(line, () => undefined);
  }

  private async take(desk: Desk, line: FromDesk): Promise<void> {
    switch (line.type) {
      case 'open':
        return this.takeOver(desk);
      case 'pong': {
        desk.answeredAt = performance.now();
        const tooLarge = line.memoryMb > this.options.heapMb + BESIDE_HEAP_MB;
        desk.beatsTooLarge = tooLarge ? desk.beatsTooLarge + 1 : 0;
        this.settle();
        if (desk.beatsTooLarge !== BEATS_TOO_LARGE || desk !== this.current || this.coming) return;
        this.options.say(`the desk takes ${Math.round(line.memoryMb)} MB; another takes over from it`);
        return this.spawn();
      }
      case 'ask':
        return this.answer(desk, line.id, line.call, line.ask);
    }
  }

  private async answer(desk: Desk, id: number, call: DoorCall, ask: unknown): Promise<void> {
    const handle = this.options.handlers[call] as (ask: unknown) => unknown;
    try {
      this.send(desk, { type: 'answer', id, answer: await handle(ask) });
    } catch (error) {
      const problem = error instanceof Error ? error.message : String(error);
      this.send(desk, { type: 'problem', id, problem });
    }
  }

  private takeOver(desk: Desk): void {
    const before = this.current;
    desk.open = true;
    this.wasOpen = true;
    desk.answeredAt = performance.now();
    this.current = desk;
    if (this.coming === desk) this.coming = null;
    if (before && before !== desk) this.end(before);
    this.settle();
  }

  private settle(): void {
    if (this.socket === null) return;
    for (const go of this.waiting.splice(0)) go();
  }

  /** Lets one finish what is under way. */
  private end(desk: Desk): void {
    this.send(desk, { type: 'stop' });
    setTimeout(() => desk.child.kill('SIGKILL'), STOP_LIMIT_MS).unref();
  }

  private beat(): void {
    const { frozenAfterMs = FROZEN_AFTER_MS, silentAfterMs = SILENT_AFTER_MS, say } = this.options;
    const now = performance.now();
    // Held up itself, this process has no say on how long a desk took.
    const heldUp = now - this.beatAt > BEAT_MS + silentAfterMs / 2;
    this.beatAt = now;
    for (const desk of [this.current, this.coming]) {
      if (!desk) continue;
      if (heldUp) desk.answeredAt = now;
      const limit = desk.open ? frozenAfterMs : Math.max(LONGEST_OPENING_MS, frozenAfterMs);
      if (now - desk.answeredAt < limit) {
        // One that answers nothing is not asked over and over: what waits for it is kept in our memory.
        if (desk.open && now - desk.answeredAt < silentAfterMs) this.send(desk, { type: 'ping' });
        continue;
      }
      say(`the desk has not answered for ${Math.round(limit / 1000)} s; replacing it`);
      desk.answeredAt = now;
      desk.child.kill('SIGKILL');
    }
  }

  /** Asks the desk to finish, and waits until it has, for a limited time; then ends it. Can be called twice. */
  async stop(): Promise<void> {
    this.stopping = true;
    clearInterval(this.beats);
    if (this.retry) clearTimeout(this.retry);
    const desks = [this.current, this.coming].filter((desk) => desk !== null);
    await Promise.all(
      desks.map(async (desk) => {
        if (desk.child.exitCode !== null || desk.child.signalCode !== null) return;
        const ended = new Promise<void>((resolve) => desk.child.once('exit', () => resolve()));
        // What hangs, or is not ready to hear yet, is ended at once.
        if (!desk.open || desk !== this.current || this.socket === null) desk.child.kill('SIGKILL');
        else this.end(desk);
        await ended;
      }),
    );
  }
}
