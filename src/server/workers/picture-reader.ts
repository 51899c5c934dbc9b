import type { PictureUse } from '@/core/pages/picture';
import type { PictureAnswer, PictureAsk } from './picture-worker';
import { TimedWorker } from './timed-worker';

const LIMITS = { longestMs: 15_000, mostMemoryMb: 128 };

/** Takes pictures in, as they will be shown. */
export class PictureReader {
  private readonly worker: TimedWorker<PictureAsk, PictureAnswer>;

  constructor(script: string) {
    this.worker = new TimedWorker(script, LIMITS);
  }

  async prepare(bytes: Uint8Array, use: PictureUse): Promise<PictureAnswer> {
    const answer = await this.worker.ask({ bytes, use });
    return answer ?? { problem: 'Expected a picture that can be read within fifteen seconds.' };
  }

  close(): Promise<void> {
    return this.worker.close();
  }
}
