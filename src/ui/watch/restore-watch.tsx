'use client';

import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { Button } from '@/ui/basic/button';
import { callApi } from '@/ui/basic/call-api';

/** Brings a deleted watch back, and goes to it. */
export function RestoreWatch({ watchId, name }: { watchId: number; name: string }) {
  const router = useRouter();
  const [problem, setProblem] = useState('');
  const restore = async () => {
    const result = await callApi('POST', `/deleted-watches/${watchId}/restore`, {});
    if (!result.ok) return setProblem(result.detail);
    router.push(`/watches/${watchId}`);
    router.refresh();
  };
  return (
    <>
      <span role="alert" className="text-down-text mr-3">
        {problem}
      </span>
      <Button aria-label={`Bring ${name} back`} onClick={() => void restore()}>
        Bring it back
      </Button>
    </>
  );
}
