'use client';

import { CalendarDays } from 'lucide-react';
import dynamic from 'next/dynamic';
import { Popover } from 'radix-ui';
import { useState, type ReactNode } from 'react';
import { Field, INPUT_CLASS } from './fields';

/** Loaded when a calendar is first opened. */
const Calendar = dynamic(() => import('./calendar').then((module) => module.Calendar), { ssr: false });

interface MomentFieldProps {
  label: string;
  help?: ReactNode;
  error?: string;
  /** As 2026-11-26T13:00, or 2026-11-26 where only a day is asked for; what is neither stays as it was typed. */
  value: string;
  dayOnly?: boolean;
  onChange: (event: { target: { value: string } }) => void;
}

const MOMENT = /^\s*(\d{4}-\d{2}-\d{2})[ T](\d{1,2}:\d{2})\s*$/;

/** What was typed, in the form it is kept in. */
function kept(typed: string): string {
  const [, day, time] = MOMENT.exec(typed) ?? [];
  return day && time ? `${day}T${time.padStart(5, '0')}` : typed;
}

/**
 * A moment by a wall clock, or a day: typed as it is written everywhere, whatever the browser's language, or chosen from
 * a calendar whose weeks begin on Monday.
 */
export function MomentField({ label, help, error, value, dayOnly = false, onChange }: MomentFieldProps) {
  const [open, setOpen] = useState(false);
  return (
    <Field label={label} help={help} error={error}>
      {(props) => (
        <div className="relative">
          <input
            {...props}
            inputMode="numeric"
            autoComplete="off"
            spellCheck={false}
            placeholder={dayOnly ? 'year-month-day' : 'year-month-day hour:minute'}
            className={`${INPUT_CLASS} figures pr-11`}
            value={value.replace(/^(\d{4}-\d{2}-\d{2})T/, '$1 ')}
            onChange={(event) => onChange({ target: { value: kept(event.target.value) } })}
          />
          <Popover.Root open={open} onOpenChange={setOpen}>
            <Popover.Trigger
              aria-label={`${label}: open the calendar`}
              className="text-muted hover:text-ink absolute inset-y-0 right-0 grid w-10 place-items-center rounded-lg"
            >
              <CalendarDays size={17} aria-hidden />
            </Popover.Trigger>
            <Popover.Portal>
              <Popover.Content
                align="end"
                sideOffset={4}
                aria-label={`Calendar: ${label}`}
                className="sheet z-50 p-3 shadow-lg"
              >
                <Calendar
                  value={value}
                  dayOnly={dayOnly}
                  onChoose={(chosen) => onChange({ target: { value: chosen } })}
                  onDone={() => setOpen(false)}
                />
              </Popover.Content>
            </Popover.Portal>
          </Popover.Root>
        </div>
      )}
    </Field>
  );
}

/** A day of the calendar, as 2026-11-26. */
export function DayField(props: Omit<MomentFieldProps, 'dayOnly'>) {
  return <MomentField {...props} dayOnly />;
}
