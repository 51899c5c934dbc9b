'use client';

import { useRouter } from 'next/navigation';
import { useCallback, useEffect, useState } from 'react';
import { formatMs } from '@/core/time/duration';
import { Button } from '@/ui/basic/button';
import { callApi } from '@/ui/basic/call-api';
import type { LookAnswer } from './look-answer';
import { LOOK_NOW_EVENT } from '@/ui/shell/keys';

/** Looks at a watch now and says in a few words what it came to. */
export function LookNow({
  watchId,
  label = 'Look now',
  byKey = false,
}: {
  watchId: number;
  label?: string;
  byKey?: boolean;
}) {
  const router = useRouter();
  const [busy, setBusy] = useState(false);
  const [said, setSaid] = useState('');
  const look = useCallback(async () => {
    setBusy(true);
    setSaid('');
    const result = await callApi<LookAnswer>('POST', `/watches/${watchId}/look`, {});
    setBusy(false);
    if (!result.ok) setSaid(result.detail);
    else
      setSaid(
        result.value.verdict === 'fine'
          ? `Fine in ${formatMs(result.value.tookMs)}.`
          : (result.value.sentence ?? 'Failed.'),
      );
    router.refresh();
  }, [router, watchId]);
  useEffect(() => {
    if (!byKey) return;
    const onKey = () => void look();
    window.addEventListener(LOOK_NOW_EVENT, onKey);
    return () => window.removeEventListener(LOOK_NOW_EVENT, onKey);
  }, [byKey, look]);
  return (
    <span className="inline-flex items-center gap-2">
      <Button disabled={busy} onClick={() => void look()}>
        {busy ? 'Looking…' : label}
      </Button>
      <span role="status" className="text-muted text-[0.8438rem]">
        {said}
      </span>
    </span>
  );
}
