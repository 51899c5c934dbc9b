'use client';

import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { LANGUAGE_CODES, LANGUAGES, USUAL_LANGUAGE, type Language } from '@/core/languages/language';
import { Button, ButtonLink } from '@/ui/basic/button';
import { SelectField, TextField } from '@/ui/form/fields';
import { FormEnd } from '@/ui/form/form-end';
import { useApiForm } from '@/ui/form/use-api-form';
import type { FieldDescription } from '@/core/settings/field-description';
import { ProbeSettings } from '@/ui/settings/probe-settings';
import type { SettingValues } from '@/ui/settings/setting-value';
import { FindChoice } from './find-choice';
import { ThisDevice } from './this-device';
import { NameSuggestion } from '@/ui/form/name-suggestion';
import { OwnForm } from '@/ui/form/own-form';

interface ChannelFormProps {
  /** The channels there are besides. */
  others: readonly { id: number; name: string }[];
  /** The one that is changed; left out where one is connected. */
  channel?: KeptChannel;
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

/** A channel as it is kept: of its secrets only that there are some. */
interface KeptChannel {
  id: number;
  version: string;
  kind: string;
  name: string;
  fallbackId: number | null;
  language: Language;
  settings: SettingValues;
}

interface Answer {
  ok: boolean;
  said: string;
}

const NOBODY = 'nobody';

const WORDS = {
  save: { new: 'Connect', kept: 'Save changes' },
  busy: { new: 'Connecting…', kept: 'Saving…' },
};

/** Connects or changes a channel; the test goes out before anything is saved. */
export function ChannelForm({ kinds, others, channel }: ChannelFormProps) {
  const router = useRouter();
  const form = useApiForm(
    {
      kind: channel?.kind ?? kinds[0]!.id,
      name: channel?.name ?? '',
      fallbackId: channel?.fallbackId ?? null,
      language: channel?.language ?? USUAL_LANGUAGE,
      settings: channel?.settings ?? {},
    },
    { version: channel?.version },
  );
  const [doing, setDoing] = useState<'test' | 'save'>('save');
  const { kind, name, fallbackId, language, settings } = form.values;
  const names = others.map((one) => one.name);
  const what = channel ? 'kept' : 'new';
  const { help, fields, defaults, byDevice } = kinds.find((one) => one.id === kind)!;
  const change = (changed: SettingValues) => form.set({ settings: { ...settings, ...changed } });
  const test = async () => {
    setDoing('test');
    const answered = channel
      ? await form.send<Answer>('POST', `/channels/${channel.id}/test`, { settings, language })
      : await form.send<Answer>('POST', '/channel-tests', { kind, language, settings });
    if (!answered) return;
    const { ok, said } = answered.value;
    form.say(ok ? `It answered: ${said}` : `It did not arrive. The answer was: ${said}`, ok);
  };
  const save = async (over = false) => {
    setDoing('save');
    if (channel) {
      const change = { name, fallbackId, language, settings };
      if (!(await form.send('PATCH', `/channels/${channel.id}`, change, over))) return;
      router.push('/messages');
    } else {
      if (!(await form.send('POST', '/channels', { kind, name, fallbackId, language, settings }))) return;
      form.set({ name: '', fallbackId: null, settings: {} });
      form.say('Connected, and put on the first route.', true);
    }
    router.refresh();
  };
  return (
    <OwnForm sheet onSend={() => save()} aria-label={channel ? 'Change a channel' : 'Connect a channel'}>
      {channel ? <p className="text-muted text-[0.875rem]">{help}</p> : <h2>Connect a channel</h2>}
      {!channel && kinds.length > 1 && (
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
              channelId={channel?.id}
              onTake={(value) => change({ [field.name]: value })}
            />
          )
        }
      />
      <SelectField
        label="Language"
        help="Messages to it are said in this language. What you wrote yourself stays as it is."
        value={language}
        options={LANGUAGE_CODES.map((code) => ({ value: code, text: LANGUAGES[code] }))}
        onChoose={(chosen) => form.set({ language: chosen as Language })}
      />
      {others.length > 0 && (
        <SelectField
          label="Where it takes nothing"
          help="What is given up, or has waited for ten minutes, is said there instead."
          value={fallbackId === null ? NOBODY : String(fallbackId)}
          options={[
            { value: NOBODY, text: 'nobody else is told' },
            ...others.map((one) => ({ value: String(one.id), text: one.name })),
          ]}
          onChoose={(chosen) => form.set({ fallbackId: chosen === NOBODY ? null : Number(chosen) })}
        />
      )}
      <div className="flex flex-wrap gap-2">
        <Button type="submit" look="strong" disabled={form.busy}>
          {form.busy && doing === 'save' ? WORDS.busy[what] : WORDS.save[what]}
        </Button>
        <Button disabled={form.busy} onClick={() => void test()}>
          {form.busy && doing === 'test' ? 'Sending…' : 'Send a test'}
        </Button>
        {channel && <ButtonLink href="/messages">Leave it</ButtonLink>}
      </div>
      <FormEnd form={form} onOver={() => void save(true)} />
    </OwnForm>
  );
}
