import type { ChildProcess } from 'node:child_process';
import { EngineLink } from '@/engine/link/link';
import { findEngineSocket, killPart, makeEngineSocket, type EngineNews } from '@/engine/link/protocol';
import type { WaitingEngine } from './waiting-engine';

const FIRST_RETRY_MS = 100;
const LONGEST_RETRY_MS = 5_000;
const STOP_LIMIT_MS = 20_000;
const HEARTBEAT_MS = 5_000;
/** Between two tellings: too short to be noticed, and long for a machine. */
const GATHERING_MS = 100;
/** An engine that answers nothing for this long hangs, whatever it is about, and is replaced: all it knows is on disk. */
export const FROZEN_AFTER_MS = 30_000;
/** One that does not listen by then hangs at its start, and is replaced; the next may take twice as long. */
const LONGEST_OPENING_MS = 120_000;

/**
 * Starts the engine, or takes over one that outlived an earlier front door; watches it, and revives it when
 * its connection is lost or it does not answer any more.
 */
export class EngineSupervisor {
  readonly link: EngineLink;
  private child: ChildProcess | null = null;
  private startedAt = 0;
  /** How much longer than the first an engine is given to open. */
  private patience = 1;
  private stopping = false;
  private telling = false;
  private tellAgain = false;
  private retryMs = FIRST_RETRY_MS;
  private readonly heartbeat: NodeJS.Timeout;
  private answeredAt = performance.now();
  private asking = false;

  constructor(
    private readonly options: {
      waiting: Pick<WaitingEngine, 'start' | 'discard'>;
      dataFolder: string;
      onNews: (news: EngineNews) => void;
      say: (text: string) => void;
      frozenAfterMs?: number;
      openingMs?: number;
    },
  ) {
    const find = () => findEngineSocket(options.dataFolder);
    this.link = new EngineLink(find, options.onNews, () => {
      if (this.stopping) return;
      options.say('the engine is gone; starting it again');
      void this.start();
    });
    const { frozenAfterMs = FROZEN_AFTER_MS } = options;
    this.heartbeat = setInterval(
      () => void this.beat(frozenAfterMs),
      Math.min(HEARTBEAT_MS, frozenAfterMs / 4),
    );
    this.heartbeat.unref();
  }

  /** Whether the engine answers at this moment. */
  async isAnswering(withinMs: number): Promise<boolean> {
    return this.link.call('ping', {}, withinMs).then(
      () => true,
      () => false,
    );
  }

  private async beat(frozenAfterMs: number): Promise<void> {
    if (!this.link.connected || this.asking || this.stopping) {
      if (!this.link.connected) this.answeredAt = performance.now();
      return;
    }
    this.asking = true;
    const asked = performance.now();
    const answered = await this.isAnswering(frozenAfterMs);
    this.asking = false;
    const now = performance.now();
    // Held up itself, this process has no say on how long the engine took.
    const late = now - asked > frozenAfterMs * 1.5;
    if (answered || late) this.answeredAt = now;
    else if (now - this.answeredAt >= frozenAfterMs && this.link.connected) {
      this.options.say(`the engine has not answered for ${Math.round(frozenAfterMs / 1000)} s; replacing it`);
      this.kill();
      this.answeredAt = now;
    }
  }

  /** Ends the engine at once, whoever started it. */
  private kill(): void {
    killPart(this.options.dataFolder, 'engine', this.child?.pid);
  }

  /** Reaches the engine, or begins to start one; resolves to whether it answers already. */
  async wake(): Promise<boolean> {
    if (this.link.connected || (await this.link.connect())) {
      this.options.waiting.discard();
      this.patience = 1;
      return true;
    }
    const openingMs = (this.options.openingMs ?? LONGEST_OPENING_MS) * this.patience;
    if (!this.child) this.spawn();
    else if (performance.now() - this.startedAt > openingMs) {
      this.options.say(`the engine does not open after ${Math.round(openingMs / 1000)} s; replacing it`);
      this.patience *= 2;
      this.startedAt = performance.now();
      this.child.kill('SIGKILL');
    }
    return false;
  }

  /** Resolves once an engine answers. */
  async start(): Promise<void> {
    while (!this.stopping) {
      if (await this.wake()) {
        this.retryMs = FIRST_RETRY_MS;
        return;
      }
      await new Promise((resolve) => setTimeout(resolve, this.retryMs));
      this.retryMs = Math.min(LONGEST_RETRY_MS, this.retryMs * 1.3);
    }
  }

  private spawn(): void {
    // The desk has its socket there too: one that both made at once would be two places, and one of them nobody's.
    makeEngineSocket(this.options.dataFolder);
    const child = this.options.waiting.start();
    this.child = child;
    this.startedAt = performance.now();
    child.once('exit', () => {
      if (this.child === child) this.child = null;
    });
    child.once('error', (error) => {
      this.options.say(`the engine could not be started: ${error.message}`);
      if (this.child === child) this.child = null;
    });
  }

  /**
   * Tells the engine that reports were committed, at once. What is committed soon after gathers for the next telling:
   * taken in by hundreds, a flood costs the engine a fraction of what it does by dozens.
   */
  async tellInbox(): Promise<void> {
    if (this.telling) {
      this.tellAgain = true;
      return;
    }
    this.telling = true;
    do {
      this.tellAgain = false;
      // An engine that is away looks into the intake when it comes back.
      await this.link.call('inbox', {}).catch(() => undefined);
      await new Promise((resolve) => setTimeout(resolve, GATHERING_MS));
    } while (this.tellAgain);
    this.telling = false;
  }

  /** Asks the engine to finish and waits until it has, for a limited time; then ends it. Can be called twice. */
  async stop(): Promise<void> {
    this.stopping = true;
    clearInterval(this.heartbeat);
    const { child } = this;
    const gone = child
      ? new Promise<void>((resolve) => child.once('exit', () => resolve()))
      : Promise.resolve();
    const heeded = await this.link.call('stop', {}).then(
      () => true,
      () => false,
    );
    // Nobody hears a signal who hangs: that one is ended at once.
    if (!heeded && this.link.connected) this.kill();
    else if (!heeded) child?.kill('SIGTERM');
    const limit = setTimeout(() => child?.kill('SIGKILL'), STOP_LIMIT_MS);
    await gone;
    clearTimeout(limit);
    this.link.close();
  }
}
