'use client';

import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { Button } from '@/ui/basic/button';
import { callApi, problemText } from '@/ui/basic/call-api';

function useRestoring() {
  const router = useRouter();
  const [problem, setProblem] = useState('');
  const [busy, setBusy] = useState(false);
  const restore = async (path: string, body: object, then: () => void) => {
    setBusy(true);
    const result = await callApi('POST', path, body);
    setBusy(false);
    if (!result.ok) return setProblem(problemText(result));
    then();
    router.refresh();
  };
  return { router, problem, busy, restore };
}

function Problem({ text }: { text: string }) {
  return (
    <span role="alert" className="text-down-text mr-3">
      {text}
    </span>
  );
}

/** Brings a deleted watch back, and goes to it. */
export function RestoreWatch({ watchId, name }: { watchId: number; name: string }) {
  const { router, problem, busy, restore } = useRestoring();
  const back = () =>
    restore(`/deleted-watches/${watchId}/restore`, {}, () => router.push(`/watches/${watchId}`));
  return (
    <>
      <Problem text={problem} />
      <Button aria-label={`Bring ${name} back`} disabled={busy} onClick={() => void back()}>
        Bring it back
      </Button>
    </>
  );
}

/** Brings back what one change deleted. */
export function RestoreTogether({ deletedAt, count }: { deletedAt: number; count: number }) {
  const { problem, busy, restore } = useRestoring();
  const body = { deletedAt: new Date(deletedAt).toISOString() };
  const back = () => restore('/deleted-watches/restores', body, () => undefined);
  return (
    <>
      <Problem text={problem} />
      <Button look="strong" disabled={busy} onClick={() => void back()}>
        {busy ? 'Bringing them back…' : count === 2 ? 'Bring both back' : `Bring all ${count} back`}
      </Button>
    </>
  );
}
