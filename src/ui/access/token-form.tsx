'use client';

import { useRouter } from 'next/navigation';
import { useState, type FormEvent } from 'react';
import { Button } from '@/ui/basic/button';
import { callApi } from '@/ui/basic/call-api';
import { CopyLine } from '@/ui/basic/copy-line';
import { FormMessage, TextField } from '@/ui/form/fields';
import { NameSuggestion } from '@/ui/form/name-suggestion';

/** Makes an API token and shows its secret once. */
export function TokenForm({ names }: { names: string[] }) {
  const router = useRouter();
  const [name, setName] = useState('');
  const [errors, setErrors] = useState<Record<string, string>>({});
  const [problem, setProblem] = useState<string | null>(null);
  const [secret, setSecret] = useState('');
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const result = await callApi<{ secret: string }>('POST', '/tokens', { name });
    if (!result.ok) {
      setErrors(result.fields);
      setProblem(Object.keys(result.fields).length > 0 ? null : result.detail);
      return;
    }
    setErrors({});
    setProblem(null);
    setName('');
    setSecret(result.value.secret);
    router.refresh();
  };
  return (
    <form onSubmit={submit} noValidate className="sheet flex flex-col gap-3 p-5">
      <h2>Make a token</h2>
      <TextField
        label="Name"
        help="What it is for, so that you know which one to revoke."
        placeholder="Deployment script"
        value={name}
        error={errors.name}
        onChange={(event) => setName(event.target.value)}
      />
      <NameSuggestion what="token" name={name} names={names} onTake={setName} />
      <div>
        <Button type="submit" look="strong">
          Make it
        </Button>
      </div>
      {secret && <CopyLine label="Copy it now; it is not shown again" text={secret} />}
      <FormMessage text={problem} />
    </form>
  );
}
