'use client';

import Link from 'next/link';
import { useRouter } from 'next/navigation';
import { useState, type FormEvent } from 'react';
import type { MailEndpointSettings } from '@/core/reports/mail-words';
import { Button } from '@/ui/basic/button';
import { callApi } from '@/ui/basic/call-api';
import { FormMessage, SwitchField, TextField } from '@/ui/form/fields';

/** Opens and shuts the door for mail; it listens by the time it is saved. */
export function MailEndpointForm({ initial, version }: { initial: MailEndpointSettings; version: string }) {
  const router = useRouter();
  const [open, setOpen] = useState(initial.open);
  const [texts, setTexts] = useState({
    port: String(initial.port),
    domain: initial.domain,
    largestKb: String(initial.largestKb),
  });
  const [errors, setErrors] = useState<Record<string, string>>({});
  const [said, setSaid] = useState<{ text: string; good: boolean } | null>(null);
  const [busy, setBusy] = useState(false);
  const save = async (event: FormEvent) => {
    event.preventDefault();
    setBusy(true);
    const body = { open, port: texts.port, domain: texts.domain, largestKb: texts.largestKb };
    const result = await callApi<MailEndpointSettings>('PATCH', '/mail-reports', body, version);
    setBusy(false);
    setErrors(result.ok ? {} : result.fields);
    if (result.ok) {
      setSaid({ text: open ? `Saved. It listens at port ${texts.port}.` : 'Saved. It is shut.', good: true });
      router.refresh();
    } else setSaid(Object.keys(result.fields).length > 0 ? null : { text: result.detail, good: false });
  };
  const field = (name: keyof typeof texts) => ({
    value: texts[name],
    error: errors[name],
    onChange: (event: { target: { value: string } }) =>
      setTexts((old) => ({ ...old, [name]: event.target.value })),
  });
  return (
    <form
      onSubmit={save}
      noValidate
      className="sheet flex flex-col gap-4 p-5"
      aria-label="How mail is taken in"
    >
      <h2>How mail is taken in</h2>
      <SwitchField
        label="Take reports by mail"
        help="Plain SMTP, without sign-in. Where it leaves the house, put your own mail server before it."
        checked={open}
        error={errors.open}
        onChange={(event) => setOpen(event.target.checked)}
      />
      <TextField
        label="Domain of the addresses"
        help="Its MX record, or a route of your mail server, has to lead here."
        placeholder="in.ternferry.test"
        {...field('domain')}
      />
      <div className="grid items-start gap-4 sm:grid-cols-2">
        <TextField label="Port" inputMode="numeric" {...field('port')} />
        <TextField label="Largest mail, in kB" inputMode="numeric" {...field('largestKb')} />
      </div>
      <p className="text-muted text-[0.8438rem]">
        Who may send, and which words count, is set for each check-in, or{' '}
        <Link href="/shared?kind=checkin" className="underline">
          once for many
        </Link>
        .
      </p>
      <div>
        <Button type="submit" look="strong" disabled={busy}>
          {busy ? 'Opening…' : 'Save'}
        </Button>
      </div>
      <FormMessage text={said?.text ?? null} good={said?.good} />
    </form>
  );
}
