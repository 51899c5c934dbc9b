import type { Replayed } from '@/core/telling/ahead/replay';
import type { PastAnswer, PastAsk } from './past-worker';
import { TimedWorker } from './timed-worker';

const LIMITS = { longestMs: 45_000, mostMemoryMb: 256 };
/** So many wait for their turn; who comes behind them is told at once that it takes too long. */
const MOST_WAITING = 4;

/** Tries routes on what was. */
export class PastReader {
  private readonly worker: TimedWorker<PastAsk, PastAnswer>;
  private waiting = 0;

  constructor(
    script: string,
    private readonly folder: string,
  ) {
    this.worker = new TimedWorker(script, LIMITS);
  }

  /** What each set of routes would have said; null where that could not be worked out within the limits. */
  async tryRoutes(ask: Omit<PastAsk, 'folder'>): Promise<Replayed[] | null> {
    if (this.waiting >= MOST_WAITING) return null;
    this.waiting += 1;
    try {
      const answer = await this.worker.ask({ folder: this.folder, ...ask });
      if (answer && 'problem' in answer) throw new Error(answer.problem);
      return answer?.tried ?? null;
    } finally {
      this.waiting -= 1;
    }
  }

  close(): Promise<void> {
    return this.worker.close();
  }
}
