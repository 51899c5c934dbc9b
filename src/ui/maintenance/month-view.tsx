'use client';

import type { MonthGrid } from '@/core/maintenance/month';
import { Link } from '@/ui/basic/link';
import { WEEKDAYS } from '@/ui/form/weekdays';
import { formatIn } from '@/ui/form/zone';
import type { PlannedWindow } from '@/views/maintenance/planned';

/** So many stand in one day; the others are counted. */
const MOST_A_DAY = 3;

interface MonthViewProps {
  grid: MonthGrid;
  windows: readonly PlannedWindow[];
  today: string;
  zone: string;
}

/** One stretch as a day shows it: from when on that day, and what. */
function Entry({ window, begins, zone }: { window: PlannedWindow; begins: number; zone: string }) {
  const before = window.begins < begins;
  return (
    <Link
      href={`/maintenance/${window.id}`}
      className="bg-quiet border-rest text-ink block truncate border-l-3 px-1 text-[0.75rem] no-underline hover:underline"
      title={`${window.title}: ${formatIn(window.begins, zone, 'moment')} to ${formatIn(window.ends, zone, 'moment')}`}
    >
      <span className="figures text-muted">{before ? 'on' : formatIn(window.begins, zone, 'time')}</span>{' '}
      {window.title}
    </Link>
  );
}

const monthName = (month: string) =>
  new Intl.DateTimeFormat('en-GB', { month: 'long', year: 'numeric', timeZone: 'UTC' }).format(
    Date.parse(`${month}-15T00:00:00Z`),
  );

/** A month as a calendar; each day names what is planned on it. */
export function MonthView({ grid, windows, today, zone }: MonthViewProps) {
  const to = (month: string) => `/maintenance?month=${month}`;
  return (
    <section className="sheet px-5 py-4" aria-label={`Maintenance in ${monthName(grid.month)}`}>
      <div className="flex flex-wrap items-baseline gap-3">
        <h2>{monthName(grid.month)}</h2>
        <nav aria-label="Other months" className="flex gap-3 text-[0.875rem]">
          {[grid.before, grid.after].map(
            (month) =>
              month && (
                <Link key={month} href={to(month)} scroll={false}>
                  {monthName(month)}
                </Link>
              ),
          )}
        </nav>
        <span className="text-muted ml-auto text-[0.8438rem]">In {zone}</span>
      </div>
      <table className="mt-2 w-full table-fixed border-collapse">
        <thead>
          <tr>
            {WEEKDAYS.map(({ value, text }) => (
              <th key={value} scope="col" className="text-muted pb-1 text-left text-[0.75rem] font-semibold">
                {text}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {grid.weeks.map((week) => (
            <tr key={week[0]!.day}>
              {week.map(({ day, begins, ends, inside }) => {
                const here = windows.filter((window) => window.begins < ends && window.ends > begins);
                return (
                  <td
                    key={day}
                    aria-current={day === today ? 'date' : undefined}
                    className={`border-rule h-17 border p-1 align-top ${inside ? '' : 'bg-paper'} ${day === today ? 'outline-button outline-2 -outline-offset-2' : ''}`}
                  >
                    <span className={`figures text-[0.75rem] ${inside ? 'font-semibold' : 'text-muted'}`}>
                      {Number(day.slice(8))}
                    </span>
                    {here.slice(0, MOST_A_DAY).map((window) => (
                      <Entry key={window.id} window={window} begins={begins} zone={zone} />
                    ))}
                    {here.length > MOST_A_DAY && (
                      <span className="text-muted block text-[0.75rem]">{here.length - MOST_A_DAY} more</span>
                    )}
                  </td>
                );
              })}
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
