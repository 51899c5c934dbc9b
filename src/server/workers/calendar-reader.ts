import type { CalendarRead } from '@/core/maintenance/calendar-read';
import type { CalendarAnswer, CalendarAsk } from './calendar-worker';
import { TimedWorker } from './timed-worker';

const LIMITS = { longestMs: 3_000, mostMemoryMb: 128 };

/** Reads iCalendar files: days off, and maintenance. */
export class CalendarReader {
  private readonly worker: TimedWorker<CalendarAsk, CalendarAnswer>;

  constructor(script: string) {
    this.worker = new TimedWorker(script, LIMITS);
  }

  daysOff(text: string, from: string): Promise<{ days: string[] } | { problem: string }> {
    return this.ask({ what: 'days-off', text, from });
  }

  maintenance(
    text: string,
    { zone, now }: { zone: string; now: number },
  ): Promise<{ read: CalendarRead } | { problem: string }> {
    return this.ask({ what: 'maintenance', text, zone, now });
  }

  private async ask<Answer extends CalendarAnswer>(ask: CalendarAsk): Promise<Answer | { problem: string }> {
    const answer = await this.worker.ask(ask);
    // The worker answers to each ask by its own.
    if (answer) return answer as Answer;
    return { problem: 'Expected a calendar that can be laid out within three seconds.' };
  }

  close(): Promise<void> {
    return this.worker.close();
  }
}
