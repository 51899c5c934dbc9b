'use client';

import { useRouter } from 'next/navigation';
import { Button } from '@/ui/basic/button';
import { SelectField, SwitchField, TextField } from '@/ui/form/fields';
import { FormEnd } from '@/ui/form/form-end';
import { Ticks } from '@/ui/form/ticks';
import { WEEKDAYS } from '@/ui/form/weekdays';
import { useApiForm } from '@/ui/form/use-api-form';
import { OwnForm } from '@/ui/form/own-form';

interface ProofFormProps {
  initial: {
    letter: { channelId: number; days: readonly number[]; at: string } | null;
    call: { every: number } | null;
  };
  version: string;
  channels: readonly { id: number; name: string }[];
  zone: string;
}

const EVERY_DAY = WEEKDAYS.map(({ value }) => value);

/** How it is shown that Calm Lantern is alive: a letter, and an address that misses it. */
export function ProofForm({ initial, version, channels, zone }: ProofFormProps) {
  const router = useRouter();
  const { letter, call } = initial;
  const form = useApiForm(
    {
      channel: letter ? String(letter.channelId) : '',
      days: letter?.days.map(String) ?? EVERY_DAY,
      at: letter?.at ?? '07:00',
      calls: call !== null,
      address: '',
      every: String(call?.every ?? 60),
    },
    { version },
  );
  const { values, errors } = form;
  const save = async (over = false) => {
    const { channel, days, at, calls, address, every } = values;
    const body = {
      letter:
        channel === ''
          ? null
          : { channelId: Number(channel), days: days.map(Number).toSorted((a, b) => a - b), at },
      call: calls
        ? {
            address: address === '' && call ? { kept: true } : address,
            everySeconds: every === '' ? null : every,
          }
        : null,
    };
    if (!(await form.send('PATCH', '/proof-of-life', body, over))) return;
    form.set({ address: '' });
    form.say('Saved.', true);
    router.refresh();
  };
  return (
    <OwnForm sheet onSend={() => save()} aria-label="Proof of life">
      <h2>That Calm Lantern is alive</h2>
      <SelectField
        label="A letter goes to"
        help="How things are, whether or not anything happened: what went down, what wants a hand, what is ahead."
        error={errors['letter.channelId']}
        value={values.channel}
        options={[
          { value: '', text: 'nobody' },
          ...channels.map(({ id, name }) => ({ value: String(id), text: name })),
        ]}
        onChoose={(channel) => form.set({ channel })}
      />
      {values.channel !== '' && (
        <>
          <Ticks label="On" options={WEEKDAYS} chosen={values.days} onChange={(days) => form.set({ days })} />
          {errors['letter.days'] && (
            <p className="text-down-text text-[0.875rem] font-semibold">{errors['letter.days']}</p>
          )}
          <TextField
            label="At"
            type="time"
            help={`In ${zone}.`}
            value={values.at}
            error={errors['letter.at']}
            onChange={(event) => form.set({ at: event.target.value })}
          />
        </>
      )}
      <SwitchField
        label="Call an address while all is well here"
        help="Somewhere else that notices when the calls stay away, and so when this machine has died."
        checked={values.calls}
        onChange={(event) => form.set({ calls: event.target.checked })}
      />
      {values.calls && (
        <>
          <TextField
            label="Address"
            help={
              call
                ? 'One is kept sealed; type another to replace it.'
                : 'It is kept secret and not shown again.'
            }
            placeholder="https://elsewhere.example/in/…"
            error={errors['call.address']}
            value={values.address}
            onChange={(event) => form.set({ address: event.target.value })}
          />
          <TextField
            label="Every, in seconds"
            inputMode="numeric"
            value={values.every}
            error={errors['call.everySeconds']}
            onChange={(event) => form.set({ every: event.target.value })}
          />
        </>
      )}
      <div>
        <Button type="submit" look="strong" disabled={form.busy}>
          {form.busy ? 'Saving…' : 'Save'}
        </Button>
      </div>
      <FormEnd form={form} onOver={() => void save(true)} />
    </OwnForm>
  );
}
