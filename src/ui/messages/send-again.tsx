'use client';

import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { Button } from '@/ui/basic/button';
import { callApi, problemText } from '@/ui/basic/call-api';

/** Sends the same message once more, and goes to what was made of it. */
export function SendAgain({ deliveryId, waits }: { deliveryId: number; waits: boolean }) {
  const router = useRouter();
  const [said, setSaid] = useState('');
  const [busy, setBusy] = useState(false);
  const send = async () => {
    setBusy(true);
    const result = await callApi<{ id: number }>('POST', `/deliveries/${deliveryId}/again`, {});
    setBusy(false);
    if (result.ok) router.push(`/messages/sent/${result.value.id}`);
    else setSaid(problemText(result));
  };
  if (waits) return <p className="text-muted mt-3 text-[0.875rem]">It is tried again by itself.</p>;
  return (
    <div className="mt-3 flex flex-wrap items-center gap-3">
      <Button disabled={busy} onClick={() => void send()}>
        {busy ? 'Sending…' : 'Send it once more'}
      </Button>
      <p role="status" className="text-down-text text-[0.875rem] empty:hidden">
        {said}
      </p>
    </div>
  );
}
