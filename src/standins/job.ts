import { Cron } from 'croner';
import type { StandIn } from './stand-in';

export interface JobOptions {
  id: string;
  title: string;
  /** When it runs by itself, as a cron expression with seconds. */
  cron: string;
  /** Where it checks in. */
  checkinAddress: string;
  /** How long a run takes. */
  runMs: number;
  /** Every n-th run fails by itself; 0 for never. */
  failsEvery: number;
}

/** A scheduled job that checks in by HTTP, as a script with curl would. */
export class PracticeJob implements StandIn {
  readonly id: string;
  readonly title: string;
  readonly modes = ['fine', 'stopped', 'failing', 'slow'] as const;
  mode = 'fine';
  private cron: Cron | null = null;
  private runs = 0;

  constructor(private readonly options: JobOptions) {
    this.id = options.id;
    this.title = options.title;
  }

  get address(): string {
    return `runs at ${this.options.cron}`;
  }

  async start(): Promise<void> {
    this.cron ??= new Cron(this.options.cron, { protect: true }, () => this.run());
  }

  /** One run: begun, some work, done or failed. Reports that do not get through are dropped, as curl would. */
  async run(): Promise<void> {
    if (this.mode === 'stopped') return;
    this.runs += 1;
    const { failsEvery, runMs } = this.options;
    const fails = this.mode === 'failing' || (failsEvery > 0 && this.runs % failsEvery === 0);
    const id = `${Date.now().toString(36)}`;
    await this.report(`is=begun&run=${id}`, '');
    await new Promise((resolve) => setTimeout(resolve, this.mode === 'slow' ? runMs * 5 : runMs));
    await this.report(
      `code=${fails ? 75 : 0}&run=${id}`,
      fails ? 'pull: weather service busy, giving up\n' : 'pull: 24 stations read\n',
    );
  }

  private async report(query: string, body: string): Promise<void> {
    try {
      await fetch(`${this.options.checkinAddress}?${query}`, {
        method: 'POST',
        body,
        signal: AbortSignal.timeout(5000),
      });
    } catch {
      // The desk is away; a missing check-in is what it will notice.
    }
  }

  async setMode(mode: string): Promise<void> {
    this.mode = mode;
  }

  async stop(): Promise<void> {
    this.cron?.stop();
    this.cron = null;
  }
}
