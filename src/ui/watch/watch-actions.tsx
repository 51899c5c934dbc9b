'use client';

import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { Button, ButtonLink } from '@/ui/basic/button';
import { callApi, problemOf } from '@/ui/basic/call-api';
import { Confirm } from '@/ui/basic/confirm';
import { PlanFromWatch } from '@/ui/maintenance/plan-from-watch';
import { sayDone } from '@/ui/shell/done-notice';
import { LookNow } from './look-now';

interface WatchActionsProps {
  watchId: number;
  name: string;
  paused: boolean;
  probe: boolean;
  /** It is under maintenance now. */
  under: boolean;
  /** What goes with it when it is deleted. */
  goesWith: string;
}

/** What can be done with a watch from its own screen. */
export function WatchActions({ watchId, name, paused, probe, under, goesWith }: WatchActionsProps) {
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
      {under ? (
        <ButtonLink href="/maintenance">Under maintenance</ButtonLink>
      ) : (
        <PlanFromWatch watchId={watchId} />
      )}
      <ButtonLink href={`/watches/${watchId}/change`}>Change</ButtonLink>
      <ButtonLink href={`/watches/new?like=${watchId}`}>One more like it</ButtonLink>
      <Confirm
        trigger="Delete"
        title={`Delete ${name}?`}
        action="Delete it"
        onConfirm={async () => {
          const result = await callApi('DELETE', `/watches/${watchId}`);
          if (!result.ok) return result.detail;
          router.push('/');
          router.refresh();
          sayDone({
            said: `${name} is deleted.`,
            takeBack: async () => {
              const wrong = await problemOf('POST', `/deleted-watches/${watchId}/restore`, {});
              router.refresh();
              return wrong;
            },
          });
          return null;
        }}
      >
        {goesWith} For seven days it can be brought back with its whole history, under “Deleted watches” in
        the menu; after that all of it is gone.
      </Confirm>
      <span role="alert" className="text-down-text">
        {problem}
      </span>
    </div>
  );
}
