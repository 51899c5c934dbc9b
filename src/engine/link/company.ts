/** Without a front door for this long, the engine ends: nobody is left who could stop it. */
const ALONE_LIMIT_MS = 10 * 60_000;

/** How many are connected to an engine, and for how long nobody has been, by a clock that nobody sets (ms). */
export class Company {
  private present = 0;
  private aloneSince: number;

  constructor(private readonly monotonic: () => number) {
    this.aloneSince = monotonic();
  }

  comes(): void {
    this.present += 1;
  }

  leaves(): void {
    this.present -= 1;
    this.aloneSince = this.monotonic();
  }

  /** Whether nobody has been there for so long that nobody will come. */
  isGoneForGood(): boolean {
    return this.present === 0 && this.monotonic() - this.aloneSince > ALONE_LIMIT_MS;
  }
}
