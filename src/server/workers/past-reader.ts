import type { Replayed } from '@/core/telling/ahead/replay';
import type { PastPort, RoutesAsk, WatchAsk, WatchTried } from '@/cases/frame/world';
import type { PastAnswer, PastAsk } from './past-worker';
import { TimedWorker } from './timed-worker';

const LIMITS = { longestMs: 45_000, mostMemoryMb: 256 };
/** So many wait for their turn; who comes behind them is told at once that it takes too long. */
const MOST_WAITING = 4;

/** Tries on what was how things would have gone. */
export class PastReader implements PastPort {
  private readonly worker: TimedWorker<PastAsk, PastAnswer>;
  private waiting = 0;

  constructor(
    script: string,
    private readonly folder: string,
  ) {
    this.worker = new TimedWorker(script, LIMITS);
  }

  /** What each set of routes would have said; null where that could not be worked out within the limits. */
  async tryRoutes(routes: RoutesAsk): Promise<Replayed[] | null> {
    const answer = await this.ask({ folder: this.folder, routes });
    return answer && 'tried' in answer ? answer.tried : null;
  }

  /** What would have become of one watch; null where that could not be worked out within the limits. */
  async tryWatch(watch: WatchAsk): Promise<WatchTried | null> {
    const answer = await this.ask({ folder: this.folder, watch });
    return answer && 'watch' in answer ? answer.watch : null;
  }

  private async ask(ask: PastAsk): Promise<PastAnswer | null> {
    if (this.waiting >= MOST_WAITING) return null;
    this.waiting += 1;
    try {
      const answer = await this.worker.ask(ask);
      if (answer && 'problem' in answer) throw new Error(answer.problem);
      return answer ?? null;
    } finally {
      this.waiting -= 1;
    }
  }

  close(): Promise<void> {
    return this.worker.close();
  }
}
