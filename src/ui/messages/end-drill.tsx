'use client';

import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { Button } from '@/ui/basic/button';
import { callApi, problemText } from '@/ui/basic/call-api';

/** Ends a drill before its time. */
export function EndDrill({ id }: { id: number }) {
  const router = useRouter();
  const [busy, setBusy] = useState(false);
  const [problem, setProblem] = useState('');
  const end = async () => {
    setBusy(true);
    const result = await callApi('POST', `/drills/${id}/end`, {});
    setBusy(false);
    setProblem(result.ok ? '' : problemText(result));
    router.refresh();
  };
  return (
    <>
      <Button disabled={busy} onClick={() => void end()}>
        {busy ? 'Ending it…' : 'End the drill'}
      </Button>
      <p role="alert" className="text-down-text mt-1 text-[0.875rem] empty:hidden">
        {problem}
      </p>
    </>
  );
}
