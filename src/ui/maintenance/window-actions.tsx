'use client';

import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { Button, ButtonLink } from '@/ui/basic/button';
import { callApi, problemText } from '@/ui/basic/call-api';
import { DeleteThroughApi } from '@/ui/basic/delete-through-api';

interface WindowActionsProps {
  id: number;
  title: string;
  running: boolean;
  /** One time of what comes again. */
  again: boolean;
}

const LONGER_MINUTES = 30;

/** What can be done with one stretch: begun, ended or let last longer, changed, called off. */
export function WindowActions({ id, title, running, again }: WindowActionsProps) {
  const router = useRouter();
  const [problem, setProblem] = useState('');
  const act = async (path: string, body: object = {}) => {
    const result = await callApi('POST', `/windows/${id}/${path}`, body);
    setProblem(result.ok ? '' : problemText(result));
    router.refresh();
  };
  return (
    <div className="flex flex-wrap items-center gap-2">
      {running ? (
        <>
          <Button onClick={() => void act('end')}>End it now</Button>
          <Button onClick={() => void act('extend', { minutes: LONGER_MINUTES })}>
            {LONGER_MINUTES} minutes more
          </Button>
        </>
      ) : (
        <Button onClick={() => void act('begin')}>Begin now</Button>
      )}
      <ButtonLink href={`/maintenance/${id}`}>Change</ButtonLink>
      {!running && (
        <DeleteThroughApi
          trigger="Call it off"
          path={`/windows/${id}`}
          title={`Call “${title}” off?`}
          explanation={
            again
              ? 'Only this one time does not come; the others do.'
              : 'Its watches count as usual then, and public pages no longer announce it.'
          }
        />
      )}
      <span role="alert" className="text-down-text text-[0.875rem] empty:hidden">
        {problem}
      </span>
    </div>
  );
}
