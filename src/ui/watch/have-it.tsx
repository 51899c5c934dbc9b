'use client';

import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { Button } from '@/ui/basic/button';
import { callApi } from '@/ui/basic/call-api';
import { Time } from '@/ui/form/zone';

interface HaveItProps {
  watchId: number;
  taken: { by: string; at: number; until: number | null } | null;
}

/** Who has an open trouble; taking it stops reminders and further steps. */
export function HaveIt({ watchId, taken }: HaveItProps) {
  const router = useRouter();
  const [busy, setBusy] = useState(false);
  const [problem, setProblem] = useState('');
  const act = async (what: 'take' | 'give-back') => {
    setBusy(true);
    const result = await callApi('POST', `/watches/${watchId}/${what}`, {});
    setBusy(false);
    setProblem(result.ok ? '' : result.detail);
    router.refresh();
  };
  return (
    <div className="sheet border-late flex flex-wrap items-center gap-x-3 gap-y-2 border-l-4 px-4 py-2.5">
      <p className="min-w-0 flex-1 basis-60">
        {taken ? (
          <>
            <strong>{taken.by}</strong> has it since <Time at={taken.at} as="time" />
            {taken.until !== null && (
              <>
                {' '}
                until <Time at={taken.until} />
              </>
            )}
            . Reminders and further steps rest.
          </>
        ) : (
          'Nobody has it yet.'
        )}
      </p>
      <Button
        look={taken ? 'plain' : 'strong'}
        disabled={busy}
        onClick={() => void act(taken ? 'give-back' : 'take')}
      >
        {taken ? 'Give it back' : 'I have it'}
      </Button>
      <span role="alert" className="text-down-text empty:hidden">
        {problem}
      </span>
    </div>
  );
}
