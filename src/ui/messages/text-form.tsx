'use client';

import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { TEXT_VALUES } from '@/core/messages/text-values';
import { Button, ButtonLink } from '@/ui/basic/button';
import { AreaField, INPUT_CLASS, SelectField, TextField } from '@/ui/form/fields';
import { FormEnd } from '@/ui/form/form-end';
import { OwnForm } from '@/ui/form/own-form';
import { useApiForm } from '@/ui/form/use-api-form';
import { TextPreview } from './text-preview';

interface TextFormProps {
  channels: readonly { id: number; name: string }[];
  /** What it can be written for, with what that is called. */
  happenings: readonly { value: string; text: string }[];
  /** The one that is changed; left out where one is written. */
  text?: {
    id: number;
    version: string;
    channelId: number | null;
    happening: string;
    title: string;
    body: string;
  };
  zone: string;
}

interface Answer {
  ok: boolean;
  said: string;
}

const EVERY = 'every';

/** Writes words of one's own: what would be said stands beside them as they are typed. */
export function TextForm({ channels, happenings, text, zone }: TextFormProps) {
  const router = useRouter();
  const form = useApiForm(
    {
      channelId: text?.channelId ?? null,
      happening: text?.happening ?? 'down',
      title: text?.title ?? '{{ title }}',
      body: text?.body ?? '{{ text }}',
    },
    { version: text?.version },
  );
  const [testTo, setTestTo] = useState(channels[0]?.id ?? null);
  const { channelId, happening } = form.values;
  const to = channelId ?? testTo;
  const rooms = channels.map(({ id, name }) => ({ value: String(id), text: name }));
  const save = async (over = false) => {
    const sent = text
      ? await form.send('PATCH', `/message-texts/${text.id}`, form.values, over)
      : await form.send('POST', '/message-texts', form.values);
    if (!sent) return;
    router.push('/messages/texts');
    router.refresh();
  };
  const test = async () => {
    const body = { ...form.values, channelId: to };
    const answered = await form.send<Answer>('POST', '/message-text-tests', body);
    if (!answered) return;
    const { ok, said } = answered.value;
    form.say(ok ? `It answered: ${said}` : `It did not arrive. The answer was: ${said}`, ok);
  };
  const add = (name: string) => form.setValues((old) => ({ ...old, body: `${old.body}{{ ${name} }}` }));
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] items-start gap-5 lg:grid-cols-2">
      <OwnForm sheet onSend={() => save()} aria-label={text ? 'Change a text' : 'Write a text'}>
        <div className="grid items-start gap-4 sm:grid-cols-2">
          <SelectField
            label="When"
            value={happening}
            options={happenings}
            error={form.errors.happening}
            onChoose={(chosen) => form.set({ happening: chosen })}
          />
          <SelectField
            label="To"
            value={channelId === null ? EVERY : String(channelId)}
            error={form.errors.channelId}
            options={[{ value: EVERY, text: 'every channel' }, ...rooms]}
            onChoose={(chosen) => form.set({ channelId: chosen === EVERY ? null : Number(chosen) })}
          />
        </div>
        <TextField
          label="Title"
          help="Empty: the built-in one."
          spellCheck={false}
          {...form.field('title')}
        />
        <AreaField
          label="Text"
          help="A Liquid template. Empty: the built-in text."
          rows={8}
          spellCheck={false}
          className={`${INPUT_CLASS} font-mono text-[0.875rem]`}
          {...form.field('body')}
        />
        <details>
          <summary className="cursor-pointer font-semibold">What a text may name</summary>
          <dl className="mt-2 grid grid-cols-[auto_1fr] gap-x-4 gap-y-1 text-[0.875rem]">
            {Object.entries(TEXT_VALUES).map(([name, what]) => (
              <div key={name} className="contents">
                <dt>
                  <button
                    type="button"
                    className="cursor-pointer font-mono underline decoration-dotted"
                    aria-label={`Add ${name} to the text`}
                    onClick={() => add(name)}
                  >
                    {name}
                  </button>
                </dt>
                <dd className="text-muted">{what}</dd>
              </div>
            ))}
          </dl>
        </details>
        {channelId === null && channels.length > 0 && (
          <SelectField
            label="A test goes to"
            value={String(testTo)}
            options={rooms}
            onChoose={(chosen) => setTestTo(Number(chosen))}
          />
        )}
        <div className="flex flex-wrap gap-2">
          <Button type="submit" look="strong" disabled={form.busy}>
            {form.busy ? 'One moment…' : 'Save'}
          </Button>
          {to !== null && (
            <Button disabled={form.busy} onClick={() => void test()}>
              Send a test
            </Button>
          )}
          <ButtonLink href="/messages/texts">Leave it</ButtonLink>
        </div>
        <FormEnd form={form} onOver={() => void save(true)} />
      </OwnForm>
      <TextPreview values={form.values} zone={zone} />
    </div>
  );
}
