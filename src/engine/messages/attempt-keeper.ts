import type { Attempt } from '@/store/messages/deliveries';

interface Waiting {
  attempt: Attempt;
  kept: () => void;
  failed: (error: unknown) => void;
}

/**
 * Keeps attempts: what gathers from all channels by the time of a commit goes with it. Each knows of its
 * own whether it was kept; one that cannot be keeps none of the others back.
 */
export class AttemptKeeper {
  private waiting: Waiting[] = [];
  private working = false;

  constructor(private readonly save: (attempts: readonly Attempt[]) => Promise<void>) {}

  keep(attempt: Attempt): Promise<void> {
    return new Promise((kept, failed) => {
      this.waiting.push({ attempt, kept, failed });
      void this.work();
    });
  }

  private async work(): Promise<void> {
    if (this.working) return;
    this.working = true;
    while (this.waiting.length > 0) {
      // A commit lets nothing else run: what has been answered by now is taken in before it.
      await new Promise((resolve) => setImmediate(resolve));
      await this.commit(this.waiting.splice(0));
    }
    this.working = false;
  }

  private async commit(all: readonly Waiting[]): Promise<void> {
    try {
      await this.save(all.map(({ attempt }) => attempt));
      for (const { kept } of all) kept();
    } catch (error) {
      if (all.length === 1) return all[0]!.failed(error);
      for (const one of all) await this.commit([one]);
    }
  }
}
