'use client';

import { useForm } from 'react-hook-form';
import { useState } from 'react';
import { Button } from '@/ui/basic/button';
import { callApi } from '@/ui/basic/call-api';
import { FormMessage, TextField } from '@/ui/form/fields';

interface Credentials {
  email: string;
  password: string;
  code: string;
}

interface CredentialsFormProps {
  to: string;
  action: string;
  isNew: boolean;
  /** The code that was printed at the start has to be typed too. */
  withCode?: boolean;
}

/** E-mail address and password, for the first account and for signing in. */
export function CredentialsForm({ to, action, isNew, withCode = false }: CredentialsFormProps) {
  const { register, handleSubmit, formState } = useForm<Credentials>({
    defaultValues: { email: '', password: '', code: '' },
  });
  const [fields, setFields] = useState<Record<string, string>>({});
  const [problem, setProblem] = useState<string | null>(null);
  const submit = handleSubmit(async ({ code, ...values }) => {
    const result = await callApi('POST', to, withCode ? { ...values, code } : values);
    if (result.ok) {
      window.location.assign('/');
      return;
    }
    setFields(result.fields);
    setProblem(Object.keys(result.fields).length > 0 ? null : result.detail);
  });
  return (
    <form onSubmit={submit} noValidate className="flex flex-col gap-4">
      <TextField
        label="E-mail address"
        type="email"
        autoComplete="username"
        autoFocus
        error={fields.email}
        {...register('email')}
      />
      <TextField
        label="Password"
        type="password"
        autoComplete={isNew ? 'new-password' : 'current-password'}
        help={isNew ? 'At least 10 characters. A sentence is easy to remember and hard to guess.' : undefined}
        error={fields.password}
        {...register('password')}
      />
      {withCode && (
        <TextField
          label="Code"
          autoComplete="off"
          spellCheck={false}
          placeholder="abcd-efgh-ijkl-mnop"
          help="It was printed where Calm Lantern was started, and shows that this is your machine."
          error={fields.code}
          {...register('code')}
        />
      )}
      <Button type="submit" look="strong" disabled={formState.isSubmitting} className="justify-center">
        {formState.isSubmitting ? 'One moment…' : action}
      </Button>
      <FormMessage text={problem} />
    </form>
  );
}
