'use client';

import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { Button } from '@/ui/basic/button';
import { TextField } from '@/ui/form/fields';
import { FormEnd } from '@/ui/form/form-end';
import { OwnForm } from '@/ui/form/own-form';
import { useApiForm } from '@/ui/form/use-api-form';

/** Leaves an outage out of all figures, for a reason that stands below them; or takes that back. */
export function LeaveOut({ outageId, leftOut }: { outageId: number; leftOut: boolean }) {
  const router = useRouter();
  const [open, setOpen] = useState(false);
  const form = useApiForm({ reason: '' });
  const send = async (path: string, body: object) => {
    if (!(await form.send('POST', `/outages/${outageId}/${path}`, body))) return;
    setOpen(false);
    router.refresh();
  };
  if (leftOut) {
    return (
      <button type="button" className="underline" disabled={form.busy} onClick={() => void send('count', {})}>
        Let it count again
      </button>
    );
  }
  if (!open) {
    return (
      <button type="button" className="underline" onClick={() => setOpen(true)}>
        Leave it out of the figures
      </button>
    );
  }
  return (
    <OwnForm
      onSend={() => send('leave-out', form.values)}
      className="text-ink mt-2 flex flex-col gap-2"
      aria-label="Leave the outage out of the figures"
    >
      <TextField
        label="Why it does not count"
        help="It stands below the figures, on public pages too. The line shows the outage all the same."
        autoFocus
        {...form.field('reason')}
      />
      <span className="flex gap-2">
        <Button type="submit" disabled={form.busy}>
          Leave it out
        </Button>
        <Button onClick={() => setOpen(false)}>No, it counts</Button>
      </span>
      <FormEnd form={form} />
    </OwnForm>
  );
}
