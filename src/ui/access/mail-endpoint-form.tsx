'use client';

import { useRouter } from 'next/navigation';
import type { MailEndpointSettings } from '@/core/reports/mail-words';
import { Button } from '@/ui/basic/button';
import { Link } from '@/ui/basic/link';
import { SwitchField, TextField } from '@/ui/form/fields';
import { FormEnd } from '@/ui/form/form-end';
import { useApiForm } from '@/ui/form/use-api-form';
import { OwnForm } from '@/ui/form/own-form';

/** Opens and shuts the door for mail; it listens by the time it is saved. */
export function MailEndpointForm({ initial, version }: { initial: MailEndpointSettings; version: string }) {
  const router = useRouter();
  const { open, port, domain, largestKb } = initial;
  const form = useApiForm({ open, port: String(port), domain, largestKb: String(largestKb) }, { version });
  const save = async (over = false) => {
    const { values } = form;
    if (!(await form.send('PATCH', '/mail-reports', values, over))) return;
    form.say(values.open ? `Saved. It listens at port ${values.port}.` : 'Saved. It is shut.', true);
    router.refresh();
  };
  return (
    <OwnForm sheet onSend={() => save()} aria-label="How mail is taken in">
      <h2>How mail is taken in</h2>
      <SwitchField
        label="Take reports by mail"
        help="Plain SMTP, without sign-in. Where it leaves the house, put your own mail server before it."
        checked={form.values.open}
        error={form.errors.open}
        onChange={(event) => form.set({ open: event.target.checked })}
      />
      <TextField
        label="Domain of the addresses"
        help="Its MX record, or a route of your mail server, has to lead here."
        placeholder="in.ternferry.test"
        {...form.field('domain')}
      />
      <div className="grid items-start gap-4 sm:grid-cols-2">
        <TextField label="Port" inputMode="numeric" {...form.field('port')} />
        <TextField label="Largest mail, in kB" inputMode="numeric" {...form.field('largestKb')} />
      </div>
      <p className="text-muted text-[0.8438rem]">
        Who may send, and which words count, is set for each check-in, or{' '}
        <Link href="/shared?kind=checkin" className="underline">
          once for many
        </Link>
        .
      </p>
      <div>
        <Button type="submit" look="strong" disabled={form.busy}>
          {form.busy ? 'Opening…' : 'Save'}
        </Button>
      </div>
      <FormEnd form={form} onOver={() => void save(true)} />
    </OwnForm>
  );
}
