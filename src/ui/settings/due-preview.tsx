'use client';

import { changeNote, timesInWords } from '@/core/schedule/due-notes';
import { nextDues, timesProblem } from '@/core/schedule/schedule';
import { scheduleOf, type ScheduleConfig } from '@/core/settings/watch-config';
import { formatIn } from '@/ui/form/zone';

const SHOWN = 10;

/** What a schedule means in words, and the next ten due times, with what changes of the clock do to them. */
export function DuePreview({ schedule, now, zone }: { schedule: ScheduleConfig; now: number; zone: string }) {
  const times = schedule.type === 'period' ? null : schedule;
  const place = times?.zone ?? zone;
  const problem = times
    ? timesProblem(times, now)
    : schedule.type === 'period' && schedule.every >= 10
      ? null
      : 'Expected a period of at least 10 seconds.';
  if (problem) return <p className="text-muted text-[0.875rem]">{problem}</p>;
  const dues = nextDues(scheduleOf(schedule), now, SHOWN);
  const words = times && timesInWords(times);
  const notes = dues.map((due) => (times ? changeNote(times, due) : null));
  return (
    <div>
      {words && <p className="mb-2 font-serif text-[1.05rem]">{words}.</p>}
      <h3 className="font-sans text-[0.875rem] font-semibold">The next {dues.length} due times</h3>
      <ol className="figures mt-1 text-[0.875rem]">
        {dues.map((due, i) => (
          <li key={due}>
            {formatIn(due, place, 'moment')}
            {notes[i] && notes[i] !== notes[i - 1] && (
              <span className="text-late-text block font-sans text-[0.8125rem]">{notes[i]}</span>
            )}
          </li>
        ))}
      </ol>
      <p className="text-muted text-[0.8438rem]">
        {times ? `Times in ${place}.` : 'If it checks in now, and each time just in time.'}
        {times?.daysOff && times.daysOff.length > 0 && ` Nothing is due on ${times.daysOff.length} days off.`}
      </p>
    </div>
  );
}
