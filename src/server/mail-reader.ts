import { Worker } from 'node:worker_threads';
import type { MailAnswer, MailAsk } from './mail-worker';

const LONGEST_MS = 20_000;
const MOST_MEMORY_MB = 256;

/** Has mails read in a worker, one after the other; whoever takes too long or too much memory is given up. */
export class MailReader {
  private worker: Worker | null = null;
  private last: Promise<unknown> = Promise.resolve();

  constructor(private readonly script: string) {}

  /** The subject and the text of a mail (RFC 5322, MIME), or why it cannot be read. */
  read(raw: Uint8Array): Promise<MailAnswer> {
    const answer = this.last.then(() => this.readNow(raw));
    // One that could not be read at all keeps nobody behind it waiting for ever.
    this.last = answer.catch(() => undefined);
    return answer;
  }

  private async readNow(raw: Uint8Array): Promise<MailAnswer> {
    const worker = (this.worker ??= new Worker(this.script, {
      resourceLimits: { maxOldGenerationSizeMb: MOST_MEMORY_MB },
    }));
    worker.unref();
    const answer = await new Promise<MailAnswer | null>((resolve) => {
      const limit = setTimeout(() => settle(null), LONGEST_MS);
      const fail = () => settle(null);
      const settle = (value: MailAnswer | null) => {
        clearTimeout(limit);
        worker.off('message', settle).off('error', fail).off('exit', fail);
        resolve(value);
      };
      worker.on('message', settle).on('error', fail).on('exit', fail);
      worker.postMessage({ raw } satisfies MailAsk);
    });
    if (answer) return answer;
    this.worker = null;
    // A worker that ran out of memory may still have something to say of it.
    worker.on('error', () => undefined);
    await worker.terminate();
    return { problem: 'it takes too long, or too much memory' };
  }

  async close(): Promise<void> {
    await this.worker?.terminate();
    this.worker = null;
  }
}
