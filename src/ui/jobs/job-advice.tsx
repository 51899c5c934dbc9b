'use client';

import { wireName } from '@/core/settings/wire-names';
import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { formatDuration } from '@/core/time/duration';
import type { Suggestion } from '@/core/reports/runs';
import { Button } from '@/ui/basic/button';
import { problemOf } from '@/ui/basic/call-api';

interface JobAdviceProps {
  watchId: number;
  leeway: number;
  longestRun: number | null;
  suggested: { leeway: Suggestion | null; longestRun: Suggestion | null };
}

/** What the history of a job suggests, taken over with one click. */
export function JobAdvice({ watchId, leeway, longestRun, suggested }: JobAdviceProps) {
  const router = useRouter();
  const [problem, setProblem] = useState<string | null>(null);
  const rows = [
    { name: 'leeway', label: 'Leeway', now: leeway, suggestion: suggested.leeway },
    { name: 'longestRun', label: 'Longest run', now: longestRun, suggestion: suggested.longestRun },
  ].filter(({ now, suggestion }) => suggestion && suggestion.value !== now);
  if (rows.length === 0) return null;
  const take = async (name: string, value: number) => {
    setProblem(await problemOf('PATCH', `/watches/${watchId}`, { [wireName(name)]: value }));
    router.refresh();
  };
  return (
    <section className="sheet flex flex-col gap-3 p-4">
      <h2>What its history suggests</h2>
      {rows.map(({ name, label, now, suggestion }) => (
        <div key={name} className="flex flex-col gap-1">
          <p>
            <strong>{label}</strong>{' '}
            <span className="figures">{formatDuration(suggestion!.value * 1000)}</span>{' '}
            <span className="text-muted">
              in place of {now === null ? 'no limit' : formatDuration(now * 1000)}
            </span>
          </p>
          <p className="text-muted text-[0.8438rem]">
            {suggestion!.how} It would have raised{' '}
            {suggestion!.alarms === 0
              ? 'no alarm'
              : suggestion!.alarms === 1
                ? 'one alarm'
                : `${suggestion!.alarms} alarms`}{' '}
            in the last 90 days.
          </p>
          <div>
            <Button onClick={() => void take(name, suggestion!.value)}>Take it over</Button>
          </div>
        </div>
      ))}
      {problem && (
        <p role="alert" className="text-down-text">
          {problem}
        </p>
      )}
    </section>
  );
}
