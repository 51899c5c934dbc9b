'use client';

import { useState } from 'react';
import type { HostStep } from '@/core/pages/host-check';
import { Button } from '@/ui/basic/button';
import { callApi, problemText } from '@/ui/basic/call-api';

/** Asks for a name as visitors will, and says how far that gets. */
export function HostCheck({ host }: { host: string }) {
  const [found, setFound] = useState<{ host: string; steps: HostStep[] } | null>(null);
  const [busy, setBusy] = useState(false);
  const check = async () => {
    setBusy(true);
    const answer = await callApi<{ steps: HostStep[] }>('POST', '/page-names', { host });
    setBusy(false);
    setFound({ host, steps: answer.ok ? answer.value.steps : [{ ok: false, text: problemText(answer) }] });
  };
  return (
    <div className="flex flex-col items-start gap-2">
      <Button disabled={busy} onClick={() => void check()}>
        {busy ? 'Asking there…' : 'Check the name'}
      </Button>
      <ul role="status" className="flex flex-col gap-1">
        {found?.host === host &&
          found.steps.map(({ ok, text }) => (
            <li key={text} className={ok ? 'text-fine' : 'text-down-text font-semibold'}>
              {ok ? '✓' : '✗'} {text}
            </li>
          ))}
      </ul>
    </div>
  );
}
