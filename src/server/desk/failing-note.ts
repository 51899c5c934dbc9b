/** What is asked of the desk's supervisor. */
interface Watched {
  isFailing: boolean;
}

/**
 * Notes for the engine whether the desk stays up, when that changes: the engine makes a trouble of it, and tells. A
 * note that could not be written is tried again.
 */
export class FailingNote {
  private noted: boolean | null = null;
  private writing = false;

  constructor(
    private readonly desk: Watched,
    private readonly save: (failing: boolean) => Promise<void>,
  ) {}

  async tick(): Promise<void> {
    const { isFailing } = this.desk;
    if (isFailing === this.noted || this.writing) return;
    this.writing = true;
    try {
      await this.save(isFailing);
      this.noted = isFailing;
    } catch {
      // A database that cannot be written says so elsewhere.
    } finally {
      this.writing = false;
    }
  }
}
