'use client';

import { useEffect, useState } from 'react';
import { countWatches } from '@/core/text/words';
import { callApi, problemText } from '@/ui/basic/call-api';
import { formatIn } from '@/ui/form/zone';

/** Typing comes to rest for so long before it is tried anew. */
const REST_MS = 300;

interface Trial {
  times: { from: string; until: string }[];
  inWords: string | null;
  watches: number;
  clashes: { windowId: number; title: string; watchIds: number[]; from: string; until: string }[];
}

interface WindowTrialProps {
  /** What would be sent; null while there is too little to try. */
  body: object | null;
  zone: string;
}

/** When what is typed would come, for how many watches, and what is planned for them then already. */
export function WindowTrial({ body, zone }: WindowTrialProps) {
  const [trial, setTrial] = useState<Trial | null>(null);
  const [refused, setRefused] = useState<string | null>(null);
  const asked = body && JSON.stringify(body);
  useEffect(() => {
    if (asked === null) return;
    let left = false;
    const attempt = async () => {
      const result = await callApi<Trial>('POST', '/windows/try', JSON.parse(asked) as object);
      if (left) return;
      setRefused(result.ok ? null : problemText(result));
      if (result.ok) setTrial(result.value);
    };
    const timer = setTimeout(() => void attempt(), REST_MS);
    return () => {
      left = true;
      clearTimeout(timer);
    };
  }, [asked]);
  const at = (iso: string) => formatIn(Date.parse(iso), zone, 'moment');
  return (
    <section className="sheet px-5 py-4" aria-label="When it would come" aria-live="polite">
      <h2>When it would come</h2>
      {asked === null && (
        <p className="text-muted mt-1">Once it has a beginning and an end, its times stand here.</p>
      )}
      {asked !== null && refused !== null && <p className="text-muted mt-1">{refused}</p>}
      {asked !== null && refused === null && trial && (
        <>
          {trial.inWords && (
            <p className="mt-1 font-serif text-[1.05rem] first-letter:uppercase">{trial.inWords}.</p>
          )}
          <ol className="figures mt-1 text-[0.875rem]">
            {trial.times.map(({ from, until }) => (
              <li key={from}>
                {at(from)} to {at(until)}
              </li>
            ))}
          </ol>
          <p className="text-muted mt-1 text-[0.8438rem]">
            Times in {zone}. Meanwhile {countWatches(trial.watches)}{' '}
            {trial.watches === 1 ? 'counts' : 'count'} no downtime and{' '}
            {trial.watches === 1 ? 'sends' : 'send'} no messages.
          </p>
          {trial.clashes.length > 0 && (
            <div className="border-rest mt-3 border-l-4 pl-3">
              <p className="font-semibold">Something is planned for the same watches already</p>
              <ul className="text-[0.875rem]">
                {trial.clashes.map((clash) => (
                  <li key={clash.windowId}>
                    “{clash.title}”, {at(clash.from)} to {at(clash.until)} (
                    {countWatches(clash.watchIds.length)})
                  </li>
                ))}
              </ul>
            </div>
          )}
        </>
      )}
    </section>
  );
}
