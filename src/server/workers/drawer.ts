import type { Drawn } from '@/server/site/copying/copies';
import type { DrawAsk } from '@/server/site/drawing';
import type { DrawAnswer, DrawWorkerData } from './draw-worker';
import { TimedWorker } from './timed-worker';

const LIMITS = { longestMs: 60_000, mostMemoryMb: 512 };
/** So many drawings wait for their turn. */
const MOST_WAITING = 200;

/** Has public pages drawn by a thread of their own, one after the other. */
export class Drawer {
  private readonly worker: TimedWorker<DrawAsk, DrawAnswer>;
  private waiting = 0;

  constructor(script: string, data: DrawWorkerData) {
    this.worker = new TimedWorker(script, LIMITS, data);
  }

  /** What was drawn, or null where the page has no such thing; throws where it could not be drawn within the limits. */
  readonly draw = async (ask: DrawAsk): Promise<Drawn | null> => {
    if (this.waiting >= MOST_WAITING) throw new Error('Too many pages are being drawn.');
    this.waiting += 1;
    try {
      const answer = await this.worker.ask(ask);
      if (!answer) throw new Error('The page could not be drawn in time.');
      if ('problem' in answer) throw new Error(answer.problem);
      return answer.drawn;
    } finally {
      this.waiting -= 1;
    }
  };

  close(): Promise<void> {
    return this.worker.close();
  }
}
