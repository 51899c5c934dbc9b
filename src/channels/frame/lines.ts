import { Blanker } from '@/core/text/secret-forms';
import { backoffMs } from '@/core/time/backoff';
import type { Answer, AroundLine, Heard, Line, Outgoing } from './kind';

/** Sends one message over a line that is made for it and ended behind it: for a test. */
export async function sendOnce(line: Line, message: Outgoing, signal: AbortSignal): Promise<Answer> {
  try {
    return await line.send(message, signal);
  } finally {
    await line.close().catch(() => undefined);
  }
}

/** Resolves with what comes first: the answer, or that it was called off or took too long. */
export function within(
  ms: number,
  signal: AbortSignal,
  work: Promise<Answer>,
  said: string,
): Promise<Answer> {
  return new Promise((resolve, reject) => {
    const over = () => done({ ok: false, retry: true, said });
    const timer = setTimeout(over, ms);
    const done = (answer: Answer) => {
      clearTimeout(timer);
      signal.removeEventListener('abort', over);
      resolve(answer);
    };
    signal.addEventListener('abort', over, { once: true });
    if (signal.aborted) over();
    work.then(done, (error: unknown) => {
      clearTimeout(timer);
      signal.removeEventListener('abort', over);
      reject(error as Error);
    });
  });
}

const SEND_MS = 50_000;
/** How long is waited before a place that was lost is come back to, less and less often. */
export const COME_BACK = { firstMs: 5_000, longestMs: 5 * 60_000 };
/** A connection that held for so long was a good one: the next waits begin from the shortest. */
const STOOD_MS = 60_000;

/**
 * A line to a place where one stays: it is opened when something is to be said, kept, and come back to by itself, less
 * and less often, when it is lost. What is said goes one after the other.
 */
export abstract class StayingLine<C> implements Line {
  private opening: Promise<C> | null = null;
  private again: NodeJS.Timeout | null = null;
  private failures = 0;
  private closed = false;
  private last: Promise<unknown> = Promise.resolve();
  protected readonly blanker: Blanker;

  /** `around` where somebody wants to know of it. */
  constructor(
    secrets: readonly string[],
    private readonly told?: AroundLine,
  ) {
    this.blanker = new Blanker(secrets.filter((secret) => secret !== ''));
  }

  /** Goes there; `onLost` is called once it does not hold any more. Throws an error with a sentence. */
  protected abstract open(onLost: () => void): Promise<C>;
  protected abstract say(there: C, message: Outgoing, signal: AbortSignal): Promise<Answer>;
  protected abstract leave(there: C): Promise<void>;
  /** Whether another try would end the same way. */
  protected abstract isLasting(error: unknown): boolean;

  private ready(): Promise<C> {
    this.opening ??= this.goThere().catch((error: unknown) => {
      this.opening = null;
      this.failures += 1;
      this.told?.onDeaf?.(this.wordsOf(error));
      throw error;
    });
    return this.opening;
  }

  private async goThere(): Promise<C> {
    const openedAt = performance.now();
    let lost = false;
    const there = await this.open(() => {
      if (lost) return;
      lost = true;
      this.opening = null;
      if (performance.now() - openedAt > STOOD_MS) this.failures = 0;
      this.comeBack();
    });
    if (!this.closed) {
      this.told?.onOpen();
      return there;
    }
    await this.leave(there);
    throw new Error('The channel was closed');
  }

  private comeBack(): void {
    if (this.closed || this.again) return;
    const wait = backoffMs(this.failures + 1, COME_BACK);
    this.again = setTimeout(() => {
      this.again = null;
      this.ready().catch(() => this.comeBack());
    }, wait);
  }

  private wordsOf(error: unknown): string {
    return this.blanker.text((error as Error).message).slice(0, 300);
  }

  listen(): void {
    if (this.closed || this.opening || this.again) return;
    this.ready().catch(() => this.comeBack());
  }

  /** Says a line of text; for answers. */
  protected abstract sayText(there: C, text: string, signal: AbortSignal): Promise<void>;

  reply(text: string, _to: Heard, signal: AbortSignal): Promise<void> {
    const said = this.last.then(async () => this.sayText(await this.ready(), text, signal));
    this.last = said.catch(() => undefined);
    return said;
  }

  send(message: Outgoing, signal: AbortSignal): Promise<Answer> {
    const said = this.last
      .then(async () => {
        const answer = await this.say(await this.ready(), message, signal);
        this.failures = 0;
        return answer;
      })
      .catch((error: unknown): Answer => {
        return { ok: false, retry: !this.isLasting(error), said: this.wordsOf(error) };
      });
    this.last = said;
    return within(SEND_MS, signal, said, `It could not be said within ${SEND_MS / 1000} s`);
  }

  async close(): Promise<void> {
    this.closed = true;
    if (this.again) clearTimeout(this.again);
    const there = await this.opening?.catch(() => null);
    if (there) await this.leave(there);
  }
}
