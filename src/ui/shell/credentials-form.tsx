'use client';

import { Button } from '@/ui/basic/button';
import { TextField } from '@/ui/form/fields';
import { FormEnd } from '@/ui/form/form-end';
import { useApiForm } from '@/ui/form/use-api-form';
import { OwnForm } from '@/ui/form/own-form';

interface CredentialsFormProps {
  to: string;
  action: string;
  isNew: boolean;
  /** The code that was printed at the start has to be typed too. */
  withCode?: boolean;
}

/** E-mail address and password, for the first account and for signing in. */
export function CredentialsForm({ to, action, isNew, withCode = false }: CredentialsFormProps) {
  const form = useApiForm({ email: '', password: '', code: '' });
  const submit = async () => {
    const { code, ...values } = form.values;
    if (await form.send('POST', to, withCode ? { ...values, code } : values)) window.location.assign('/');
  };
  return (
    <OwnForm onSend={submit} className="flex flex-col gap-4">
      <TextField
        label="E-mail address"
        type="email"
        autoComplete="username"
        autoFocus
        {...form.field('email')}
      />
      <TextField
        label="Password"
        type="password"
        autoComplete={isNew ? 'new-password' : 'current-password'}
        help={isNew ? 'At least 10 characters. A sentence is easy to remember and hard to guess.' : undefined}
        {...form.field('password')}
      />
      {withCode && (
        <TextField
          label="Code"
          autoComplete="off"
          spellCheck={false}
          placeholder="abcd-efgh-ijkl-mnop"
          help="It was printed where Calm Lantern was started, and shows that this is your machine."
          {...form.field('code')}
        />
      )}
      <Button type="submit" look="strong" disabled={form.busy} className="justify-center">
        {form.busy ? 'One moment…' : action}
      </Button>
      <FormEnd form={form} />
    </OwnForm>
  );
}
