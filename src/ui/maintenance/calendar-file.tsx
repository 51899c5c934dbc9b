'use client';

import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { Button } from '@/ui/basic/button';
import { callApi, problemText } from '@/ui/basic/call-api';
import { FileButton } from '@/ui/form/file-button';
import { formatIn, useZone } from '@/ui/form/zone';
import type { CoverageChoices } from '@/views/maintenance/planned';
import { CoverageField, type CoverageValues } from './coverage-field';

interface Plan {
  windows: { title: string; from: string; until: string }[];
  recurring: { title: string; inWords: string; zone: string; first: string }[];
  past: number;
  refused: { title: string; problem: string }[];
}

function PlanList({ plan, zone }: { plan: Plan; zone: string }) {
  return (
    <div className="text-[0.875rem]">
      <ul>
        {plan.windows.map(({ title, from, until }, i) => (
          <li key={i}>
            “{title}”, {formatIn(Date.parse(from), zone, 'moment')} to{' '}
            {formatIn(Date.parse(until), zone, 'moment')}
          </li>
        ))}
        {plan.recurring.map(({ title, inWords, first }, i) => (
          <li key={i}>
            “{title}”, {inWords}, first {first.replace('T', ' ')}
          </li>
        ))}
      </ul>
      {plan.past > 0 && <p className="text-muted">{plan.past} over already, left out.</p>}
      {plan.refused.map(({ title, problem }, i) => (
        <p key={i} className="text-late-text">
          “{title}” is left out: {problem}
        </p>
      ))}
    </div>
  );
}

/** Takes maintenance in from a calendar of somebody else, after a look at what would be planned; and gives it out. */
export function CalendarFile({ choices, zone: server }: { choices: CoverageChoices; zone: string }) {
  const router = useRouter();
  const zone = useZone() || server;
  const [calendar, setCalendar] = useState('');
  const [coverage, setCoverage] = useState<CoverageValues>({ watchIds: [], sectionIds: [], tagIds: [] });
  const [plan, setPlan] = useState<Plan | null>(null);
  const [said, setSaid] = useState('');
  const send = async (path: string, text = calendar): Promise<Plan | null> => {
    const result = await callApi<Plan>('POST', path, { ...coverage, calendar: text, zone });
    setSaid(result.ok ? '' : problemText(result));
    return result.ok ? result.value : null;
  };
  const give = async () => {
    const result = await callApi<{ calendar: string }>('GET', '/windows/calendar');
    if (!result.ok) return setSaid(problemText(result));
    const link = document.createElement('a');
    link.href = URL.createObjectURL(new Blob([result.value.calendar], { type: 'text/calendar' }));
    link.download = 'maintenance.ics';
    link.click();
    URL.revokeObjectURL(link.href);
  };
  return (
    <details className="sheet px-5 py-4">
      <summary className="font-semibold">Calendars: take maintenance in, or give it out</summary>
      <div className="mt-3 flex flex-col gap-4">
        <CoverageField
          choices={choices}
          values={coverage}
          onChange={(change) => {
            setCoverage({ ...coverage, ...change });
            setPlan(null);
          }}
        />
        <div className="flex flex-wrap gap-2">
          <FileButton
            label="A calendar to read maintenance from"
            accept=".ics,text/calendar"
            onRead={async (text) => {
              setCalendar(text);
              setPlan(await send('/windows/calendar/read', text));
            }}
            onRefused={setSaid}
          >
            Read a calendar (iCalendar)
          </FileButton>
          <Button onClick={() => void give()}>Save all that is planned as a calendar</Button>
        </div>
        <p role="alert" className="text-down-text text-[0.875rem] empty:hidden">
          {said}
        </p>
        {plan && (
          <>
            <PlanList plan={plan} zone={zone} />
            {plan.windows.length + plan.recurring.length > 0 && (
              <div>
                <Button
                  look="strong"
                  onClick={async () => {
                    if (!(await send('/windows/calendar'))) return;
                    setPlan(null);
                    router.refresh();
                  }}
                >
                  Plan {plan.windows.length + plan.recurring.length} of them
                </Button>
              </div>
            )}
          </>
        )}
      </div>
    </details>
  );
}
