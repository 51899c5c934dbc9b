import { parentPort } from 'node:worker_threads';
import { daysOffOf } from '@/core/schedule/days-off';

export interface CalendarAsk {
  text: string;
  /** The first day that counts, "2026-12-25". */
  from: string;
}

export type CalendarAnswer = { days: string[] } | { problem: string };

/** Lays calendars out apart from the process that hears check-ins: a rule may be written that never comes to an end. */
parentPort?.on('message', ({ text, from }: CalendarAsk) => {
  let answer: CalendarAnswer;
  try {
    answer = { days: daysOffOf(text, from) };
  } catch (error) {
    answer = { problem: (error as Error).message };
  }
  parentPort!.postMessage(answer);
});
