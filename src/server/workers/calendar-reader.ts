import type { CalendarAnswer, CalendarAsk } from './calendar-worker';
import { TimedWorker } from './timed-worker';

const LIMITS = { longestMs: 3_000, mostMemoryMb: 128 };

/** Reads days off from iCalendar files. */
export class CalendarReader {
  private readonly worker: TimedWorker<CalendarAsk, CalendarAnswer>;

  constructor(script: string) {
    this.worker = new TimedWorker(script, LIMITS);
  }

  async daysOff(text: string, from: string): Promise<CalendarAnswer> {
    const answer = await this.worker.ask({ text, from });
    return answer ?? { problem: 'Expected a calendar that can be laid out within three seconds.' };
  }

  close(): Promise<void> {
    return this.worker.close();
  }
}
