import { backoffMs } from '@/core/time/backoff';
import type { Answer, AroundLine, Heard, Line, Outgoing } from './kind';
import { COME_BACK } from './lines';

/** Between two questions lies at least so much, however quickly they are answered. */
const LEAST_GAP_MS = 1_000;

/** What was written since, and up to where that is. */
export interface Written {
  upTo: string;
  heard: Heard[];
}

interface Asks {
  send: (message: Outgoing, signal: AbortSignal) => Promise<Answer>;
  /** Waits for a while for what is written; null asks where to begin. Rejects where that cannot be told. */
  ask: (since: string | null, signal: AbortSignal) => Promise<Written>;
  reply: (text: string, to: Heard, signal: AbortSignal) => Promise<void>;
}

/** A line to a place that is called over HTTP: what is written there is asked for again and again. */
export class AskingLine implements Line {
  private readonly abort = new AbortController();
  private listening = false;

  constructor(
    private readonly asks: Asks,
    private readonly around?: AroundLine,
  ) {}

  send(message: Outgoing, signal: AbortSignal): Promise<Answer> {
    return this.asks.send(message, signal);
  }

  reply(text: string, to: Heard, signal: AbortSignal): Promise<void> {
    return this.asks.reply(text, to, signal);
  }

  listen(): void {
    if (this.listening || this.abort.signal.aborted || !this.around) return;
    this.listening = true;
    void this.askOn(this.around);
  }

  private async askOn({ onOpen, onHeard, onDeaf }: AroundLine): Promise<void> {
    let since: string | null = null;
    let isOpen = false;
    let failures = 0;
    while (!this.abort.signal.aborted) {
      let wait = LEAST_GAP_MS;
      try {
        const { upTo, heard } = await this.asks.ask(since, this.abort.signal);
        // What was written before we came is not said to us.
        if (since !== null) heard.forEach(onHeard);
        if (!isOpen) onOpen();
        isOpen = true;
        since = upTo;
        failures = 0;
      } catch (error) {
        if (!this.abort.signal.aborted) onDeaf?.((error as Error).message);
        // Where to go on from may be what is wrong.
        since = null;
        isOpen = false;
        failures += 1;
        wait = backoffMs(failures, COME_BACK);
      }
      await this.rest(wait);
    }
  }

  private rest(ms: number): Promise<void> {
    const { signal } = this.abort;
    return new Promise((resolve) => {
      const done = () => {
        clearTimeout(timer);
        signal.removeEventListener('abort', done);
        resolve();
      };
      const timer = setTimeout(done, ms);
      signal.addEventListener('abort', done, { once: true });
      if (signal.aborted) done();
    });
  }

  close(): Promise<void> {
    this.abort.abort();
    return Promise.resolve();
  }
}
