import { Worker } from 'node:worker_threads';

export interface WorkerLimits {
  longestMs: number;
  mostMemoryMb: number;
}

/**
 * Has work done by a thread apart from the one that hears check-ins, one piece after the other. A piece that takes too
 * long or too much memory is given up with its thread; the next one gets a new thread.
 */
export class TimedWorker<Ask, Answer> {
  private worker: Worker | null = null;
  private last: Promise<unknown> = Promise.resolve();

  constructor(
    private readonly script: string,
    private readonly limits: WorkerLimits,
    /** What each thread is given when it begins. */
    private readonly data?: unknown,
  ) {}

  /** The answer, or null where the limits were passed. */
  ask(ask: Ask): Promise<Answer | null> {
    const answer = this.last.then(() => this.askNow(ask));
    // One that broke off keeps nobody behind it waiting for ever.
    this.last = answer.catch(() => undefined);
    return answer;
  }

  private async askNow(ask: Ask): Promise<Answer | null> {
    const { longestMs, mostMemoryMb } = this.limits;
    const worker = (this.worker ??= new Worker(this.script, {
      resourceLimits: { maxOldGenerationSizeMb: mostMemoryMb },
      workerData: this.data,
    }));
    worker.unref();
    const answer = await new Promise<Answer | null>((resolve) => {
      const limit = setTimeout(() => settle(null), longestMs);
      const fail = () => settle(null);
      const settle = (value: Answer | null) => {
        clearTimeout(limit);
        worker.off('message', settle).off('error', fail).off('exit', fail);
        resolve(value);
      };
      worker.on('message', settle).on('error', fail).on('exit', fail);
      worker.postMessage(ask);
    });
    if (answer !== null) return answer;
    this.worker = null;
    // A worker that ran out of memory may still have something to say of it.
    worker.on('error', () => undefined);
    await worker.terminate();
    return null;
  }

  async close(): Promise<void> {
    await this.worker?.terminate();
    this.worker = null;
  }
}
