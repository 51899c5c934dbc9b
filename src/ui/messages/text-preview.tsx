'use client';

import { useEffect, useState } from 'react';
import { formatClock } from '@/core/time/clock-text';
import { callApi, problemText } from '@/ui/basic/call-api';

/** Typing comes to rest for so long before it is filled in anew. */
const REST_MS = 300;

interface Trial {
  text: { title: string; lines: string[]; link: string } | null;
  problem: string | null;
  saidAt: string | null;
  about: string;
}

interface TextPreviewProps {
  values: object;
  zone: string;
}

/** What would be said, filled in by the very code that will say it, from what was said last. */
export function TextPreview({ values, zone }: TextPreviewProps) {
  const [trial, setTrial] = useState<Trial | null>(null);
  const [refused, setRefused] = useState<string | null>(null);
  const asked = JSON.stringify(values);
  useEffect(() => {
    let left = false;
    const fill = async () => {
      const result = await callApi<Trial>('POST', '/message-text-trials', JSON.parse(asked) as object);
      if (left) return;
      setRefused(result.ok ? null : problemText(result));
      if (result.ok) setTrial(result.value);
    };
    const timer = setTimeout(() => void fill(), REST_MS);
    return () => {
      left = true;
      clearTimeout(timer);
    };
  }, [asked]);
  const problem = refused ?? trial?.problem ?? null;
  return (
    <section className="sheet px-5 py-4" aria-label="What would be said" aria-live="polite">
      <h2>What would be said</h2>
      {problem !== null && <p className="text-down-text mt-2 font-semibold">{problem}</p>}
      {problem === null && trial?.text && (
        <div className="border-rule mt-3 rounded-lg border px-4 py-3">
          <p className="font-semibold break-words">{trial.text.title}</p>
          {trial.text.lines.map((line, i) => (
            <p key={i} className="mt-1 break-words">
              {line}
            </p>
          ))}
        </div>
      )}
      {trial && (
        <p className="text-muted mt-3 text-[0.875rem]">
          {trial.saidAt === null
            ? 'Nothing of the kind was said yet, so this is made up.'
            : `As it would have been said ${formatClock(Date.parse(trial.saidAt), zone)}, of ${trial.about || 'several'}.`}
        </p>
      )}
    </section>
  );
}
