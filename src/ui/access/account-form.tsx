'use client';

import { useRouter } from 'next/navigation';
import { Button } from '@/ui/basic/button';
import { TextField } from '@/ui/form/fields';
import { FormEnd } from '@/ui/form/form-end';
import { useApiForm } from '@/ui/form/use-api-form';
import { OwnForm } from '@/ui/form/own-form';

/** E-mail address and password of whoever is signed in; the present password says that it is they. */
export function AccountForm({ email }: { email: string }) {
  const router = useRouter();
  const form = useApiForm({ email, password: '', current: '' });
  const submit = async () => {
    const { current, ...values } = form.values;
    const sent = await form.send('PATCH', '/api/account', {
      current,
      ...(values.email.trim() !== email && { email: values.email }),
      ...(values.password !== '' && { password: values.password }),
    });
    if (!sent) return;
    const also = values.password === '' ? '' : ' Everywhere else you are signed out.';
    form.say(`Saved.${also}`, true);
    form.set({ email: values.email.trim(), password: '', current: '' });
    router.refresh();
  };
  return (
    <OwnForm sheet onSend={submit} aria-label="Change your account">
      <h2>Change it</h2>
      <TextField label="E-mail address" type="email" autoComplete="username" {...form.field('email')} />
      <TextField
        label="New password"
        type="password"
        autoComplete="new-password"
        help="At least 10 characters; left empty, it stays as it is."
        {...form.field('password')}
      />
      <TextField
        label="Present password"
        type="password"
        autoComplete="current-password"
        {...form.field('current')}
      />
      <div>
        <Button type="submit" look="strong" disabled={form.busy}>
          {form.busy ? 'Saving…' : 'Save'}
        </Button>
      </div>
      <FormEnd form={form} />
    </OwnForm>
  );
}
