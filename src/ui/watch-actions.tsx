'use client';

import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { Button, ButtonLink } from './button';
import { callApi } from './call-api';
import { Confirm } from './confirm';
import { LookNow } from './look-now';

interface WatchActionsProps {
  watchId: number;
  name: string;
  paused: boolean;
  probe: boolean;
}

/** What can be done with a watch from its own screen. */
export function WatchActions({ watchId, name, paused, probe }: WatchActionsProps) {
  const router = useRouter();
  const [problem, setProblem] = useState('');
  const flip = async () => {
    const result = await callApi('POST', `/watches/${watchId}/${paused ? 'resume' : 'pause'}`, {});
    setProblem(result.ok ? '' : result.detail);
    router.refresh();
  };
  return (
    <div className="flex flex-wrap items-center gap-2">
      {probe && !paused && <LookNow watchId={watchId} byKey />}
      <Button onClick={() => void flip()}>{paused ? 'End the pause' : 'Pause'}</Button>
      <ButtonLink href={`/watches/${watchId}/change`}>Change</ButtonLink>
      <Confirm
        trigger="Delete"
        title={`Delete ${name}?`}
        action="Delete it"
        onConfirm={async () => {
          const result = await callApi('DELETE', `/watches/${watchId}`);
          if (!result.ok) return result.detail;
          router.push('/');
          router.refresh();
          return null;
        }}
      >
        Its looks stop, and it leaves every public page. Its history is no longer shown.
      </Confirm>
      <span role="alert" className="text-down-text">
        {problem}
      </span>
    </div>
  );
}
