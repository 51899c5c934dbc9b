'use client';

import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { HOUR_MS } from '@/core/time/units';
import { Button } from '@/ui/basic/button';
import { FormMessage, SelectField, TextField } from '@/ui/form/fields';
import { OwnForm } from '@/ui/form/own-form';
import { useApiForm } from '@/ui/form/use-api-form';
import { Time } from '@/ui/form/zone';

interface HaveItProps {
  watchId: number;
  taken: { by: string; at: number; until: number | null } | null;
}

const FOR_HOURS = [
  { value: '', text: 'until it is over' },
  { value: '1', text: 'for an hour' },
  { value: '4', text: 'for four hours' },
  { value: '12', text: 'for twelve hours' },
  { value: '24', text: 'for a day' },
];

/** Who has an open trouble; taking it, or handing it to somebody, stops reminders and further steps. */
export function HaveIt({ watchId, taken }: HaveItProps) {
  const router = useRouter();
  const form = useApiForm({ by: '', hours: '' });
  const [open, setOpen] = useState(false);
  const act = async (what: 'take' | 'give-back', body: object = {}) => {
    if (!(await form.send('POST', `/watches/${watchId}/${what}`, body))) return;
    setOpen(false);
    form.set({ by: '' });
    router.refresh();
  };
  const handOver = () => {
    const { by, hours } = form.values;
    const until = hours === '' ? null : new Date(Date.now() + Number(hours) * HOUR_MS).toISOString();
    return act('take', { by, until });
  };
  return (
    <section className="sheet border-late border-l-4 px-4 py-2.5" aria-label="Who has it">
      <div className="flex flex-wrap items-center gap-x-3 gap-y-2">
        <p className="min-w-0 flex-1 basis-60">
          {taken ? (
            <>
              <strong>{taken.by}</strong> has it since <Time at={taken.at} as="time" />
              {taken.until !== null && (
                <>
                  {' '}
                  until <Time at={taken.until} />
                </>
              )}
              . Reminders and further steps rest.
            </>
          ) : (
            'Nobody has it yet.'
          )}
        </p>
        <Button aria-expanded={open} disabled={form.busy} onClick={() => setOpen(!open)}>
          {taken ? 'Hand it over' : 'Give it to somebody'}
        </Button>
        <Button
          look={taken ? 'plain' : 'strong'}
          disabled={form.busy}
          onClick={() => void act(taken ? 'give-back' : 'take')}
        >
          {taken ? 'Give it back' : 'I have it'}
        </Button>
      </div>
      {open && (
        <OwnForm
          onSend={handOver}
          aria-label="Hand it over"
          className="mt-3 flex flex-wrap items-start gap-3"
        >
          <TextField
            label="To whom"
            placeholder="Tomas"
            help="Left empty: to you."
            autoFocus
            {...form.field('by')}
          />
          <SelectField
            label="How long"
            value={form.values.hours}
            options={FOR_HOURS}
            error={form.errors.until}
            onChoose={(hours) => form.set({ hours })}
          />
          <Button type="submit" look="strong" className="mt-7" disabled={form.busy}>
            {form.busy ? 'One moment…' : 'Hand it over'}
          </Button>
        </OwnForm>
      )}
      <FormMessage text={form.said?.text ?? null} />
    </section>
  );
}
