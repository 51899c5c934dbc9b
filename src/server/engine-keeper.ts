import { spawn, type ChildProcess } from 'node:child_process';
import { EngineLink } from '../engine/link';
import { engineSocketPath, type EngineNews } from '../engine/protocol';

const FIRST_RETRY_MS = 100;
const LONGEST_RETRY_MS = 5_000;
const STOP_LIMIT_MS = 20_000;

/**
 * Starts the engine, or takes over one that outlived an earlier front door; watches it, and revives it when
 * its connection is lost.
 */
export class EngineKeeper {
  readonly link: EngineLink;
  private child: ChildProcess | null = null;
  private stopping = false;
  private telling = false;
  private tellAgain = false;
  private retryMs = FIRST_RETRY_MS;

  constructor(
    private readonly options: {
      script: string;
      dataFolder: string;
      onNews: (news: EngineNews) => void;
      say: (text: string) => void;
    },
  ) {
    this.link = new EngineLink(engineSocketPath(options.dataFolder), options.onNews, () => {
      if (this.stopping) return;
      options.say('the engine is gone; starting it again');
      void this.start();
    });
  }

  /** Reaches the engine, or begins to start one; resolves to whether it answers already. */
  async wake(): Promise<boolean> {
    if (this.link.connected || (await this.link.connect())) return true;
    if (!this.child) this.spawn();
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
    // A group of its own: Ctrl-C reaches the front door only, which then stops the engine in good order.
    const child = spawn(process.execPath, [this.options.script], {
      stdio: ['ignore', 'inherit', 'inherit'],
      detached: true,
      // Name look-ups wait in the thread pool; with four threads, four slow names would hold up all others.
      env: { UV_THREADPOOL_SIZE: '32', ...process.env },
    });
    this.child = child;
    child.once('exit', () => {
      if (this.child === child) this.child = null;
    });
    child.once('error', (error) => {
      this.options.say(`the engine could not be started: ${error.message}`);
      if (this.child === child) this.child = null;
    });
  }

  /** Tells the engine that reports were committed; while one telling is under way, the next waits and is joined. */
  async tellInbox(): Promise<void> {
    if (this.telling) {
      this.tellAgain = true;
      return;
    }
    this.telling = true;
    do {
      this.tellAgain = false;
      // An engine that is away looks into the inbox when it comes back.
      await this.link.call('inbox', {}).catch(() => undefined);
    } while (this.tellAgain);
    this.telling = false;
  }

  /** Asks the engine to finish and waits until it has. Can be called twice. */
  async stop(): Promise<void> {
    this.stopping = true;
    const { child } = this;
    const gone = child
      ? new Promise<void>((resolve) => child.once('exit', () => resolve()))
      : Promise.resolve();
    await this.link.call('stop', {}).catch(() => child?.kill('SIGTERM'));
    const limit = setTimeout(() => child?.kill('SIGKILL'), STOP_LIMIT_MS);
    await gone;
    clearTimeout(limit);
    this.link.close();
  }
}
