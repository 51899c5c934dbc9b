'use client';

import { useRouter } from 'next/navigation';
import { useEffect, useState } from 'react';
import { Button } from '@/ui/basic/button';
import { callApi, problemText } from '@/ui/basic/call-api';
import { Time } from '@/ui/form/zone';

interface TakeBackProps {
  incidentId: number;
  dueAt: number;
  /** How long until then, by the clock of the server that drew this. */
  leftMs: number;
}

/** For half a minute after publishing, nothing has gone out to followers: it can still be kept from them. */
export function TakeBack({ incidentId, dueAt, leftMs }: TakeBackProps) {
  const router = useRouter();
  const [over, setOver] = useState(leftMs <= 0);
  const [said, setSaid] = useState('');
  useEffect(() => {
    const timer = setTimeout(
      () => {
        setOver(true);
        router.refresh();
      },
      Math.max(0, leftMs) + 500,
    );
    return () => clearTimeout(timer);
  }, [leftMs, router]);
  if (over) return null;
  const take = async () => {
    const result = await callApi('POST', `/incidents/${incidentId}/letters/take-back`, {});
    setSaid(result.ok ? 'Followers are not told.' : problemText(result));
    router.refresh();
  };
  return (
    <div className="sheet border-l-lamp flex flex-wrap items-center gap-3 border-l-4 px-5 py-3">
      <p className="flex-1">
        It is published. Followers are told at <Time at={dueAt} as="seconds" />.
      </p>
      <Button onClick={() => void take()}>Do not tell them</Button>
      <p role="alert" className="text-down-text empty:hidden">
        {said}
      </p>
    </div>
  );
}
