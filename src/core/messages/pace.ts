/** So many may go at once, and then one in so long. */
export interface PaceLimit {
  burst: number;
  everyMs: number;
}

/** How fast one channel is spoken to, by a clock nobody sets (the generic cell rate algorithm, ITU-T I.371). */
export class Pace {
  /** When the last one would have gone, had they all gone evenly. */
  private evenlyAt = -Infinity;

  constructor(
    private readonly limit: PaceLimit,
    private readonly now: () => number,
  ) {}

  /** Counts one more; answers how long it has to wait, in ms. */
  take(): number {
    const { burst, everyMs } = this.limit;
    const now = this.now();
    this.evenlyAt = Math.max(now, this.evenlyAt + everyMs);
    return Math.max(0, this.evenlyAt - (burst - 1) * everyMs - now);
  }
}
