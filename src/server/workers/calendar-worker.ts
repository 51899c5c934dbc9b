import { parentPort } from 'node:worker_threads';
import { readCalendar, type CalendarRead } from '@/core/maintenance/calendar-read';
import { daysOffOf } from '@/core/schedule/days-off';

export type CalendarAsk =
  /** The days off of a calendar; `from` is the first day that counts, "2026-12-25". */
  | { what: 'days-off'; text: string; from: string }
  /** The maintenance of a calendar; times without a zone are by `zone`, and what is over at `now` is left out. */
  | { what: 'maintenance'; text: string; zone: string; now: number };

export type CalendarAnswer = { days: string[] } | { read: CalendarRead } | { problem: string };

function answerTo(ask: CalendarAsk): CalendarAnswer {
  try {
    if (ask.what === 'days-off') return { days: daysOffOf(ask.text, ask.from) };
    return { read: readCalendar(ask.text, ask) };
  } catch (error) {
    return { problem: (error as Error).message };
  }
}

/** Lays calendars out apart from the process that hears check-ins: a rule may be written that never comes to an end. */
parentPort?.on('message', (ask: CalendarAsk) => parentPort!.postMessage(answerTo(ask)));
