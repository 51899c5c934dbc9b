'use client';

import { useState } from 'react';
import { capitalise, countOf } from '@/core/text/words';
import { callApi, problemText } from '@/ui/basic/call-api';
import { AreaField, INPUT_CLASS } from './fields';
import { FileButton } from './file-button';

interface DaysOffFieldProps {
  label: string;
  /** Days as typed, one a line. */
  value: string;
  error: string | undefined;
  onChange: (value: string) => void;
}

/** The days in what was typed. */
export function daysIn(text: string): string[] {
  return text.split(/[\s,]+/).filter(Boolean);
}

/** Days on which something rests: typed, or read from a calendar of holidays. */
export function DaysOffField({ label, value, error, onChange }: DaysOffFieldProps) {
  const [said, setSaid] = useState('');
  const count = daysIn(value).length;
  const read = async (text: string) => {
    const result = await callApi<{ days: string[] }>('POST', '/days-off', { text });
    if (!result.ok) return setSaid(problemText(result));
    onChange([...new Set([...daysIn(value), ...result.value.days])].sort().join('\n'));
    setSaid(`${capitalise(countOf(result.value.days.length, 'day'))} read.`);
  };
  return (
    <details className="sheet px-4 py-3 sm:col-span-2" open={error !== undefined || undefined}>
      <summary className="cursor-pointer font-semibold">
        Days off{' '}
        <span className="text-muted font-normal">{count === 0 ? 'none' : countOf(count, 'day')}</span>
      </summary>
      <div className="mt-3 flex flex-col gap-3">
        <AreaField
          label={label}
          help="One a line, such as 2026-12-25."
          className={`${INPUT_CLASS} figures`}
          error={error}
          value={value}
          onChange={(event) => onChange(event.target.value)}
        />
        <div className="flex flex-wrap items-center gap-3">
          <FileButton
            label="iCalendar file of holidays"
            accept=".ics,text/calendar"
            onRead={read}
            onRefused={setSaid}
          >
            Read a calendar file
          </FileButton>
          <span role="status" className="text-muted text-[0.875rem]">
            {said}
          </span>
        </div>
      </div>
    </details>
  );
}
