'use client';

import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { useForm } from 'react-hook-form';
import { Button } from '@/ui/basic/button';
import { callApi } from '@/ui/basic/call-api';
import { FormMessage, TextField } from '@/ui/form/fields';

interface Values {
  email: string;
  password: string;
  current: string;
}

/** E-mail address and password of whoever is signed in; the present password says that it is they. */
export function AccountForm({ email }: { email: string }) {
  const router = useRouter();
  const { register, handleSubmit, formState, reset } = useForm<Values>({
    defaultValues: { email, password: '', current: '' },
  });
  const [fields, setFields] = useState<Record<string, string>>({});
  const [said, setSaid] = useState<{ text: string; good: boolean } | null>(null);
  const submit = handleSubmit(async ({ current, ...values }) => {
    const result = await callApi('PATCH', '/api/account', {
      current,
      ...(values.email.trim() !== email && { email: values.email }),
      ...(values.password !== '' && { password: values.password }),
    });
    if (!result.ok) {
      setFields(result.fields);
      setSaid(Object.keys(result.fields).length > 0 ? null : { text: result.detail, good: false });
      return;
    }
    const also = values.password === '' ? '' : ' Everywhere else you are signed out.';
    setFields({});
    setSaid({ text: `Saved.${also}`, good: true });
    reset({ email: values.email.trim(), password: '', current: '' });
    router.refresh();
  });
  return (
    <form
      onSubmit={submit}
      noValidate
      className="sheet flex flex-col gap-4 p-5"
      aria-label="Change your account"
    >
      <h2>Change it</h2>
      <TextField
        label="E-mail address"
        type="email"
        autoComplete="username"
        error={fields.email}
        {...register('email')}
      />
      <TextField
        label="New password"
        type="password"
        autoComplete="new-password"
        help="At least 10 characters; left empty, it stays as it is."
        error={fields.password}
        {...register('password')}
      />
      <TextField
        label="Present password"
        type="password"
        autoComplete="current-password"
        error={fields.current}
        {...register('current')}
      />
      <div>
        <Button type="submit" look="strong" disabled={formState.isSubmitting}>
          {formState.isSubmitting ? 'Saving…' : 'Save'}
        </Button>
      </div>
      <FormMessage text={said?.text ?? null} good={said?.good} />
    </form>
  );
}
