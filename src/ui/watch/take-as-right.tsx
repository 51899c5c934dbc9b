'use client';

import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { Button } from '@/ui/basic/button';
import { callApi } from '@/ui/basic/call-api';

/** Takes what is found now as what later looks are compared with. */
export function TakeAsRight({ watchId }: { watchId: number }) {
  const router = useRouter();
  const [busy, setBusy] = useState(false);
  const [problem, setProblem] = useState('');
  const take = async () => {
    setBusy(true);
    const result = await callApi('POST', `/watches/${watchId}/look?afresh=true`, {});
    setBusy(false);
    setProblem(result.ok ? '' : result.detail);
    router.refresh();
  };
  return (
    <p className="my-2">
      <Button disabled={busy} onClick={() => void take()}>
        {busy ? 'Looking…' : 'Take the new value as right'}
      </Button>{' '}
      <span role="alert" className="text-down-text">
        {problem}
      </span>
    </p>
  );
}
