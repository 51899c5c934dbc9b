import type { MailAnswer, MailAsk } from './mail-worker';
import { TimedWorker } from '@/server/workers/timed-worker';

const LIMITS = { longestMs: 20_000, mostMemoryMb: 256 };

/** Has mails read in a thread of its own, one after the other. */
export class MailReader {
  private readonly worker: TimedWorker<MailAsk, MailAnswer>;

  constructor(script: string) {
    this.worker = new TimedWorker(script, LIMITS);
  }

  /** The subject and the text of a mail (RFC 5322, MIME), or why it cannot be read. */
  async read(raw: Uint8Array): Promise<MailAnswer> {
    const answer = await this.worker.ask({ raw });
    return answer ?? { problem: 'it takes too long, or too much memory' };
  }

  close(): Promise<void> {
    return this.worker.close();
  }
}
