'use client';

import { useState } from 'react';
import { Button } from '@/ui/basic/button';
import { TextField } from '@/ui/form/fields';
import { FormEnd } from '@/ui/form/form-end';
import { useApiForm } from '@/ui/form/use-api-form';
import { OwnForm } from '@/ui/form/own-form';

/** Asks once for a name, and takes it. */
export function TakeForm({ token }: { token: string }) {
  const form = useApiForm({ by: '' });
  const [done, setDone] = useState(false);
  const submit = async () => {
    if (await form.send('POST', '/api/take', { ...form.values, token })) setDone(true);
  };
  if (done) return <p role="status">You have it, {form.values.by}. The others hear of it.</p>;
  return (
    <OwnForm onSend={submit} className="flex flex-col gap-4">
      <TextField label="Your name" autoComplete="name" autoFocus {...form.field('by')} />
      <Button type="submit" look="strong" disabled={form.busy} className="justify-center">
        {form.busy ? 'One moment…' : 'I have it'}
      </Button>
      <FormEnd form={form} />
    </OwnForm>
  );
}
