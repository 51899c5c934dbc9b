import type { StandIn } from './stand-in';

export interface Opened {
  port: number;
  close: () => Promise<void>;
}

/** What every practice server has: a mode, a port that stays the same, and being stopped and started. */
export abstract class PracticeService implements StandIn {
  abstract readonly modes: readonly string[];
  mode = 'fine';
  private opened: Opened | null = null;

  constructor(
    readonly id: string,
    readonly title: string,
    public port: number,
  ) {}

  /** Opens on a port of loopback; 0 lets the system choose. */
  protected abstract open(port: number): Promise<Opened>;

  /** Modes that only show on connections made anew need nothing; others have the server started again. */
  protected needsRestart(_mode: string): boolean {
    return false;
  }

  get address(): string {
    return `127.0.0.1:${this.port}`;
  }

  async start(): Promise<void> {
    if (this.opened) return;
    this.opened = await this.open(this.port);
    this.port = this.opened.port;
  }

  async setMode(mode: string): Promise<void> {
    const restart = this.needsRestart(mode) || this.needsRestart(this.mode);
    this.mode = mode;
    if (mode === 'stopped') return this.stop();
    if (restart) await this.stop();
    await this.start();
  }

  async stop(): Promise<void> {
    const { opened } = this;
    this.opened = null;
    await opened?.close();
  }
}
