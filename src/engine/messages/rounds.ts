/**
 * What is handed over in rounds: the next comes at once when it is woken, or after as long as the last one says. In each,
 * work is begun that goes on by itself, under a name that is at work once at a time.
 */
export class Rounds<Name> {
  private timer: NodeJS.Timeout | null = null;
  private readonly works = new Map<Name, Promise<unknown>>();
  private readonly abort = new AbortController();
  private isClosed = false;

  constructor(private readonly round: () => Promise<void>) {}

  /** Nothing more is begun. */
  get closed(): boolean {
    return this.isClosed;
  }

  /** Aborts once those at work have had their time. */
  get signal(): AbortSignal {
    return this.abort.signal;
  }

  /** The names at work. */
  get busy(): ReadonlyMap<Name, unknown> {
    return this.works;
  }

  /** A round at once, in place of one that is planned. */
  wake(): void {
    if (this.timer) clearTimeout(this.timer);
    this.timer = null;
    this.sleep(0);
  }

  /** A round after so long, unless one is planned. */
  sleep(ms: number): void {
    if (this.isClosed || this.timer) return;
    this.timer = setTimeout(() => {
      this.timer = null;
      void this.round();
    }, ms);
  }

  /** `work` sees to its own errors. */
  begin(name: Name, work: () => Promise<unknown>): void {
    this.works.set(
      name,
      work().finally(() => this.works.delete(name)),
    );
  }

  /** Waits a little for what is at work, and then cuts it short. */
  async close(graceMs: number): Promise<void> {
    this.isClosed = true;
    if (this.timer) clearTimeout(this.timer);
    const grace = setTimeout(() => this.abort.abort(), graceMs);
    await Promise.allSettled(this.works.values());
    clearTimeout(grace);
  }
}
