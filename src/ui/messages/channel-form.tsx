'use client';

import { useRouter } from 'next/navigation';
import { useState, type FormEvent } from 'react';
import { Button } from '@/ui/basic/button';
import { SelectField, TextField } from '@/ui/form/fields';
import { FormEnd } from '@/ui/form/form-end';
import { useApiForm } from '@/ui/form/use-api-form';
import type { FieldDescription } from '@/core/settings/field-description';
import { ProbeSettings } from '@/ui/settings/probe-settings';
import type { SettingValues } from '@/ui/settings/setting-value';
import { FindChoice } from './find-choice';
import { ThisDevice } from './this-device';
import { NameSuggestion } from '@/ui/form/name-suggestion';

interface ChannelFormProps {
  /** The names channels have already. */
  names: string[];
  /** The kinds there are, each with what it asks for. */
  kinds: readonly ChoosableKind[];
}

interface ChoosableKind {
  id: string;
  title: string;
  help: string;
  fields: readonly FieldDescription[];
  /** What holds where nothing is typed. */
  defaults: SettingValues;
  byDevice: boolean;
}

interface Answer {
  ok: boolean;
  said: string;
}

/** Connects a channel; the test goes out before anything is saved. */
export function ChannelForm({ kinds, names }: ChannelFormProps) {
  const router = useRouter();
  const form = useApiForm({ kind: kinds[0]!.id, name: '', settings: {} as SettingValues });
  const [doing, setDoing] = useState<'test' | 'save'>('save');
  const { kind, name, settings } = form.values;
  const { help, fields, defaults, byDevice } = kinds.find((one) => one.id === kind)!;
  const change = (changed: SettingValues) => form.set({ settings: { ...settings, ...changed } });
  const test = async () => {
    setDoing('test');
    const answered = await form.send<Answer>('POST', '/channel-tests', { kind, settings });
    if (!answered) return;
    const { ok, said } = answered.value;
    form.say(ok ? `It answered: ${said}` : `It did not arrive. The answer was: ${said}`, ok);
  };
  const save = async (event: FormEvent) => {
    event.preventDefault();
    setDoing('save');
    if (!(await form.send('POST', '/channels', { kind, name, settings }))) return;
    form.set({ name: '', settings: {} });
    form.say('Connected, and put on the first route.', true);
    router.refresh();
  };
  return (
    <form onSubmit={save} noValidate className="sheet flex flex-col gap-4 p-5" aria-label="Connect a channel">
      <h2>Connect a channel</h2>
      {kinds.length > 1 && (
        <SelectField
          label="Kind"
          help={help}
          value={kind}
          options={kinds.map((one) => ({ value: one.id, text: one.title }))}
          onChoose={(chosen) => form.set({ kind: chosen, settings: {} })}
        />
      )}
      <TextField label="Name" placeholder="Crew room" {...form.field('name')} />
      <NameSuggestion
        what="channel"
        name={name}
        names={names}
        onTake={(taken) => form.set({ name: taken })}
      />
      {byDevice && <ThisDevice isOn={settings.endpoint !== undefined} onTake={change} />}
      <ProbeSettings
        fields={fields}
        values={settings}
        defaults={defaults}
        errors={form.errors}
        watches={[]}
        form={null}
        autoFocus={false}
        onChange={(name, value) => change({ [name]: value })}
        beside={(field) =>
          field.finds && (
            <FindChoice
              key={`${kind} ${names.length}`}
              {...{ kind, field, settings }}
              onTake={(value) => change({ [field.name]: value })}
            />
          )
        }
      />
      <div className="flex gap-2">
        <Button type="submit" look="strong" disabled={form.busy}>
          {form.busy && doing === 'save' ? 'Connecting…' : 'Connect'}
        </Button>
        <Button disabled={form.busy} onClick={() => void test()}>
          {form.busy && doing === 'test' ? 'Sending…' : 'Send a test'}
        </Button>
      </div>
      <FormEnd form={form} />
    </form>
  );
}
