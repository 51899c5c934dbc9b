'use client';

import { ChevronLeft, ChevronRight } from 'lucide-react';
import { useState } from 'react';
import { DayPicker } from 'react-day-picker';
import { enGB } from 'react-day-picker/locale';
import { Button } from '@/ui/basic/button';

interface CalendarProps {
  /** As 2026-11-26T13:00, or 2026-11-26. */
  value: string;
  dayOnly: boolean;
  onChoose: (value: string) => void;
  onDone: () => void;
}

const two = (n: number) => String(n).padStart(2, '0');
const numbers = (count: number, step = 1) => Array.from({ length: count }, (_, i) => two(i * step));
const HOURS = numbers(24);
const STEP = 5;
const MINUTES = numbers(60 / STEP, STEP);

/** The browser's own clock only draws the month: a day is a year, a month and a number here. */
const dayText = (date: Date) => `${date.getFullYear()}-${two(date.getMonth() + 1)}-${two(date.getDate())}`;

function dateOf(value: string): Date | undefined {
  const [, year, month, day] = /^(\d{4})-(\d{2})-(\d{2})/.exec(value) ?? [];
  const date = new Date(Number(year), Number(month) - 1, Number(day));
  return year !== undefined && dayText(date) === value.slice(0, 10) ? date : undefined;
}

const NAV = 'hover:bg-quiet absolute top-0 grid size-8 place-items-center rounded-lg';

const LOOK = {
  root: 'relative',
  month_caption: 'grid h-8 place-items-center font-semibold',
  button_previous: `${NAV} left-0`,
  button_next: `${NAV} right-0`,
  month_grid: 'figures mt-1 border-collapse',
  weekday: 'text-muted size-9 text-[0.8125rem] font-normal',
  day: 'p-0 text-center',
  day_button: 'hover:bg-quiet size-9 rounded-lg',
  outside: 'text-muted',
  today: 'font-bold underline underline-offset-4',
  selected: '[&>button]:bg-button [&>button]:text-button-ink',
};

/** A month to choose a day from, and the time of day beside it. */
export function Calendar({ value, dayOnly, onChoose, onDone }: CalendarProps) {
  const chosen = dateOf(value);
  const time = /T(\d{2}):(\d{2})$/.exec(value);
  const [now] = useState(() => new Date());
  const [hour = two(now.getHours()), minute = two(now.getMinutes() - (now.getMinutes() % STEP))] = time
    ? [time[1], time[2]]
    : [];
  const choose = (day: string, hours: string, minutes: string) =>
    onChoose(dayOnly ? day : `${day}T${hours}:${minutes}`);
  const day = dayText(chosen ?? now);
  return (
    <div className="flex flex-col gap-3">
      <DayPicker
        mode="single"
        required
        locale={enGB}
        showOutsideDays
        autoFocus
        defaultMonth={chosen}
        selected={chosen}
        onSelect={(date: Date) => {
          choose(dayText(date), hour, minute);
          if (dayOnly) onDone();
        }}
        classNames={LOOK}
        components={{
          Chevron: ({ orientation }) =>
            orientation === 'left' ? (
              <ChevronLeft size={17} aria-hidden />
            ) : (
              <ChevronRight size={17} aria-hidden />
            ),
        }}
      />
      {!dayOnly && (
        <div className="figures flex items-center gap-1.5">
          <Part label="Hour" value={hour} of={HOURS} onChoose={(hours) => choose(day, hours, minute)} />:
          <Part
            label="Minute"
            value={minute}
            of={MINUTES.includes(minute) ? MINUTES : [...MINUTES, minute].sort()}
            onChoose={(minutes) => choose(day, hour, minutes)}
          />
          <span className="ml-auto">
            <Button onClick={onDone}>Done</Button>
          </span>
        </div>
      )}
    </div>
  );
}

interface PartProps {
  label: string;
  value: string;
  of: readonly string[];
  onChoose: (value: string) => void;
}

function Part({ label, value, of, onChoose }: PartProps) {
  return (
    <select
      aria-label={label}
      className="border-edge bg-card rounded-lg border px-2 py-1.5"
      value={value}
      onChange={(event) => onChoose(event.target.value)}
    >
      {of.map((one) => (
        <option key={one}>{one}</option>
      ))}
    </select>
  );
}
