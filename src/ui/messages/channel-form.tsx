'use client';

import { useRouter } from 'next/navigation';
import { useState, type FormEvent } from 'react';
import { Button } from '@/ui/basic/button';
import { callApi } from '@/ui/basic/call-api';
import { FormMessage, TextField } from '@/ui/form/fields';
import { NameSuggestion } from '@/ui/form/name-suggestion';

interface ChannelFormProps {
  /** The names channels have already. */
  names: string[];
  kind: string;
  fields: { name: string; label: string; help: string; placeholder: string; secret?: true }[];
}

interface Answer {
  ok: boolean;
  said: string;
}

/** Connects a channel; the test goes out before anything is saved. */
export function ChannelForm({ kind, fields, names }: ChannelFormProps) {
  const router = useRouter();
  const [name, setName] = useState('');
  const [settings, setSettings] = useState<Record<string, string>>({});
  const [errors, setErrors] = useState<Record<string, string>>({});
  const [said, setSaid] = useState<{ text: string; good: boolean } | null>(null);
  const [busy, setBusy] = useState('');

  const refuse = (detail: string, refused: Record<string, string>) => {
    setErrors(refused);
    setSaid(Object.keys(refused).length > 0 ? null : { text: detail, good: false });
  };
  const test = async () => {
    setBusy('test');
    const result = await callApi<Answer>('POST', '/channel-tests', { kind, settings });
    setBusy('');
    if (!result.ok) return refuse(result.detail, result.fields);
    setErrors({});
    const { ok, said: answer } = result.value;
    setSaid({
      text: ok ? `The room answered: ${answer}` : `It did not arrive. The answer was: ${answer}`,
      good: ok,
    });
  };
  const save = async (event: FormEvent) => {
    event.preventDefault();
    setBusy('save');
    const result = await callApi('POST', '/channels', { kind, name, settings });
    setBusy('');
    if (!result.ok) return refuse(result.detail, result.fields);
    setName('');
    setSettings({});
    setErrors({});
    setSaid({ text: 'Connected. Trouble of every watch goes there from now on.', good: true });
    router.refresh();
  };
  return (
    <form
      onSubmit={save}
      noValidate
      className="sheet flex flex-col gap-4 p-5"
      aria-label="Connect a chat room"
    >
      <h2>Connect a chat room</h2>
      <TextField
        label="Name"
        placeholder="Crew room"
        value={name}
        error={errors.name}
        onChange={(event) => setName(event.target.value)}
      />
      <NameSuggestion what="channel" name={name} names={names} onTake={setName} />
      {fields.map((field) => (
        <TextField
          key={field.name}
          label={field.label}
          help={field.help}
          placeholder={field.placeholder}
          type={field.secret ? 'password' : 'text'}
          autoComplete={field.secret ? 'new-password' : 'off'}
          value={settings[field.name] ?? ''}
          error={errors[`settings.${field.name}`]}
          onChange={(event) => setSettings({ ...settings, [field.name]: event.target.value })}
        />
      ))}
      <div className="flex gap-2">
        <Button type="submit" look="strong" disabled={busy !== ''}>
          {busy === 'save' ? 'Connecting…' : 'Connect'}
        </Button>
        <Button disabled={busy !== ''} onClick={() => void test()}>
          {busy === 'test' ? 'Sending…' : 'Send a test'}
        </Button>
      </div>
      <FormMessage text={said?.text ?? null} good={said?.good} />
    </form>
  );
}
