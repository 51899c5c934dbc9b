'use client';

import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { Button } from '@/ui/basic/button';
import { CopyLine } from '@/ui/basic/copy-line';
import { TextField } from '@/ui/form/fields';
import { FormEnd } from '@/ui/form/form-end';
import { useApiForm } from '@/ui/form/use-api-form';
import { NameSuggestion } from '@/ui/form/name-suggestion';
import { OwnForm } from '@/ui/form/own-form';

/** Makes an API token and shows its secret once. */
export function TokenForm({ names }: { names: string[] }) {
  const router = useRouter();
  const form = useApiForm({ name: '' });
  const [secret, setSecret] = useState('');
  const submit = async () => {
    const made = await form.send<{ secret: string }>('POST', '/tokens', form.values);
    if (!made) return;
    form.set({ name: '' });
    setSecret(made.value.secret);
    router.refresh();
  };
  return (
    <OwnForm sheet onSend={submit}>
      <h2>Make a token</h2>
      <TextField
        label="Name"
        help="What it is for, so that you know which one to revoke."
        placeholder="Deployment script"
        {...form.field('name')}
      />
      <NameSuggestion
        what="token"
        name={form.values.name}
        names={names}
        onTake={(name) => form.set({ name })}
      />
      <div>
        <Button type="submit" look="strong" disabled={form.busy}>
          Make it
        </Button>
      </div>
      {secret && <CopyLine label="Copy it now; it is not shown again" text={secret} />}
      <FormEnd form={form} />
    </OwnForm>
  );
}
