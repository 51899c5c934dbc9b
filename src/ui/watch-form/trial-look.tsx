'use client';

import { useState } from 'react';
import { formatMs } from '@/core/time/duration';
import { Button } from '@/ui/basic/button';
import { callApi } from '@/ui/basic/call-api';
import { Ladder } from '@/ui/watch/ladder';
import { evidenceOf, type LookAnswer } from '@/ui/watch/look-answer';
import { LookFacts, PhaseBars } from '@/ui/watch/look-result';

interface Trial extends LookAnswer {
  failsWhen: string;
  settings: { address?: string };
}

interface TrialLookProps {
  body: () => Record<string, unknown>;
  /** The watch whose kept secrets are used. */
  watchId?: number;
  onRefused: (detail: string, fields: Record<string, string>) => void;
  onLooked: (settings: Trial['settings']) => void;
}

const TONES = { fine: 'text-fine', slow: 'text-late-text', failed: 'text-down-text' };

/** Looks once with what the form holds, through the very code that will look later. */
export function TrialLook({ body, watchId, onRefused, onLooked }: TrialLookProps) {
  const [busy, setBusy] = useState(false);
  const [trial, setTrial] = useState<Trial | null>(null);
  const look = async () => {
    setBusy(true);
    onRefused('', {});
    const result = await callApi<Trial>('POST', watchId ? `/looks?watch=${watchId}` : '/looks', body());
    setBusy(false);
    if (result.ok) {
      setTrial(result.value);
      onLooked(result.value.settings);
    } else {
      setTrial(null);
      onRefused(result.detail, result.fields);
    }
  };
  const evidence = trial?.evidence && evidenceOf(trial.evidence);
  return (
    <section className="sheet flex flex-col gap-3 p-5" aria-label="Try it now" aria-live="polite">
      <div className="flex items-center justify-between gap-3">
        <h2>Try it now</h2>
        <Button disabled={busy} onClick={() => void look()}>
          {busy ? 'Looking…' : 'Look now'}
        </Button>
      </div>
      {!trial && (
        <p className="text-muted text-[0.875rem]">
          Looks once, from here, without saving. You see how long each step takes and what would count as
          failing.
        </p>
      )}
      {trial && (
        <div>
          <p className={`mb-1.5 text-[1rem] font-semibold ${TONES[trial.verdict]}`}>
            {trial.verdict === 'fine' ? `Fine in ${formatMs(trial.tookMs)}.` : trial.sentence}
          </p>
          {trial.advice && <p className="text-muted mb-2 text-[0.875rem]">{trial.advice}</p>}
          {trial.verdict === 'failed' && <Ladder rungs={evidence?.ladder ?? []} />}
          {evidence?.phases && <PhaseBars phases={evidence.phases} />}
          {evidence && <LookFacts evidence={evidence} now={Date.parse(trial.at)} />}
          <p className="border-rule mt-3 border-t pt-3 text-[0.875rem]">{trial.failsWhen}</p>
        </div>
      )}
    </section>
  );
}
