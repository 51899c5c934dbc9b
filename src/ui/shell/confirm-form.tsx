'use client';

import { useState } from 'react';
import { Button } from '@/ui/basic/button';
import { FormEnd } from '@/ui/form/form-end';
import { OwnForm } from '@/ui/form/own-form';
import { useApiForm } from '@/ui/form/use-api-form';

/** One button that says yes. */
export function ConfirmForm({ token }: { token: string }) {
  const form = useApiForm({ token });
  const [done, setDone] = useState(false);
  const say = async () => {
    if (await form.send('POST', '/api/confirm', form.values)) setDone(true);
  };
  if (done) return <p role="status">Thank you. Messages come to you from now on.</p>;
  return (
    <OwnForm onSend={say} className="flex flex-col gap-4">
      <Button type="submit" look="strong" disabled={form.busy} className="justify-center">
        {form.busy ? 'One moment…' : 'Yes, send them to me'}
      </Button>
      <FormEnd form={form} />
    </OwnForm>
  );
}
