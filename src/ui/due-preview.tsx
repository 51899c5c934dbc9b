'use client';

import { cronProblem, nextDues } from '../core/schedule';
import { scheduleOf, type ScheduleConfig } from '../core/watch-config';
import { formatIn } from './zone';

/** The next five due times of a schedule, in its own zone. */
export function DuePreview({ schedule, now, zone }: { schedule: ScheduleConfig; now: number; zone: string }) {
  const place = schedule.type === 'cron' ? schedule.zone : zone;
  const problem =
    schedule.type === 'cron'
      ? cronProblem(schedule.expression, schedule.zone)
      : schedule.every >= 10
        ? null
        : 'Expected a period of at least 10 seconds.';
  if (problem) return <p className="text-muted text-[14px]">{problem}</p>;
  const dues = nextDues(scheduleOf(schedule), now, 5);
  return (
    <div>
      <h3 className="font-sans text-[14px] font-semibold">The next five due times</h3>
      <ol className="figures mt-1 text-[14px]">
        {dues.map((due) => (
          <li key={due}>{formatIn(due, place, 'moment')}</li>
        ))}
      </ol>
      <p className="text-muted text-[13.5px]">
        {schedule.type === 'cron' ? `Times in ${place}.` : 'If it checks in now, and each time just in time.'}
      </p>
    </div>
  );
}
