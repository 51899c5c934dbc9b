'use client';

import { useEffect, useState, type ReactNode } from 'react';
import { Button } from '@/ui/basic/button';
import { problemText, type ApiResult } from '@/ui/basic/call-api';

interface PastTrialProps<T> {
  /** What is gone through, in a sentence. */
  help: string;
  /** What is tried, as text: once it is another, what was found does not hold any more. */
  of: string;
  ask: () => Promise<ApiResult<T>>;
  children: (trial: T) => ReactNode;
}

/** A trial, and what it was made with. */
type Kept<T> = { of: string; trial: T } | { of: string; problem: string };

/** How long something has been going on, to the second. */
function useSeconds(running: boolean): number {
  const [seconds, setSeconds] = useState(0);
  useEffect(() => {
    if (!running) return;
    const began = performance.now();
    const timer = setInterval(() => setSeconds(Math.floor((performance.now() - began) / 1000)), 250);
    return () => {
      clearInterval(timer);
      setSeconds(0);
    };
  }, [running]);
  return seconds;
}

/** Tries what stands in a form on what was, before it is saved. */
export function PastTrial<T>({ help, of, ask, children }: PastTrialProps<T>) {
  const [kept, setKept] = useState<Kept<T> | null>(null);
  const [busy, setBusy] = useState(false);
  const seconds = useSeconds(busy);
  const tryIt = async () => {
    setBusy(true);
    const result = await ask();
    setBusy(false);
    setKept(result.ok ? { of, trial: result.value } : { of, problem: problemText(result) });
  };
  return (
    <section className="sheet overflow-x-auto p-5" aria-label="Tried on the past" tabIndex={0}>
      <h2>Tried on the past</h2>
      <p className="text-muted mt-1 text-[0.875rem]">{help}</p>
      <div className="mt-3 flex items-center gap-3">
        <Button disabled={busy} onClick={() => void tryIt()}>
          {busy ? 'Going through the past…' : kept ? 'Try it again' : 'Try it'}
        </Button>
        {busy && (
          <span className="text-muted flex items-center gap-2 text-[0.875rem]">
            <span role="progressbar" aria-label="Going through the past" className="going-on" />
            {seconds > 0 && <span className="figures">{seconds} s</span>}
          </span>
        )}
      </div>
      <div role="status" className={kept && kept.of !== of ? 'opacity-60' : ''}>
        {kept && kept.of !== of && (
          <p className="text-muted mt-2 text-[0.875rem]">Something was changed since it was tried.</p>
        )}
        {kept &&
          ('trial' in kept ? (
            children(kept.trial)
          ) : (
            <p className="text-down-text mt-2 text-[0.875rem] font-semibold">{kept.problem}</p>
          ))}
      </div>
    </section>
  );
}
