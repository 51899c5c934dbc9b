'use client';

import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { Button } from './button';
import { problemOf } from './call-api';

/** Pauses all watches a filter lets through, or ends their pause. */
export function PauseButtons({ filter, paused, count }: { filter: object; paused: number; count: number }) {
  const router = useRouter();
  const [problem, setProblem] = useState<string | null>(null);
  const act = async (action: 'pause' | 'resume') => {
    setProblem(await problemOf('POST', '/watches/changes', { filter, action }));
    router.refresh();
  };
  return (
    <>
      {count > paused && <Button onClick={() => void act('pause')}>Pause all</Button>}
      {paused > 0 && <Button onClick={() => void act('resume')}>End the pause</Button>}
      {problem && (
        <span role="alert" className="text-down-text">
          {problem}
        </span>
      )}
    </>
  );
}
