'use client';

import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { Button } from '@/ui/basic/button';
import { callApi, problemText } from '@/ui/basic/call-api';
import { FormMessage, INPUT_CLASS, TextField } from '@/ui/form/fields';
import { useApiForm } from '@/ui/form/use-api-form';
import type { Offer } from '@/core/settings/offer';
import { OwnForm } from '@/ui/form/own-form';

interface Choice extends Offer {
  ticked: boolean;
}

/** Type an address: it is looked at at once in every way that could fit; what answered is ticked already. */
export function AddressOffer() {
  const router = useRouter();
  const form = useApiForm({ address: '' });
  const [choices, setChoices] = useState<Choice[] | null>(null);
  const [saving, setSaving] = useState(false);
  const looking = form.busy && !saving;

  const look = async () => {
    const offers = await form.send<Offer[]>('POST', '/offers', form.values);
    setChoices(offers?.value.map((offer) => ({ ...offer, ticked: offer.fits })) ?? null);
  };
  const change = (i: number, part: Partial<Choice>) =>
    setChoices((old) => old?.map((choice, at) => (at === i ? { ...choice, ...part } : choice)) ?? null);
  const save = async () => {
    setSaving(true);
    form.say('');
    const made: number[] = [];
    let failed = false;
    for (const [i, { kind, name, settings, ticked }] of (choices ?? []).entries()) {
      if (!ticked) continue;
      const result = await callApi<{ id: number }>('POST', '/watches', { kind, name, settings });
      if (result.ok) {
        made.push(result.value.id);
        change(i, { ticked: false, said: 'Saved.' });
      } else {
        failed = true;
        form.say(`${name}: ${problemText(result)}`);
      }
    }
    setSaving(false);
    if (failed || made.length === 0) return;
    router.push(made.length === 1 ? `/watches/${made[0]}` : '/');
    router.refresh();
  };
  const count = choices?.filter((choice) => choice.ticked).length ?? 0;

  return (
    <section className="sheet flex flex-col gap-3 p-5" aria-label="See what fits" aria-live="polite">
      <OwnForm onSend={look} className="flex flex-wrap items-start gap-3">
        <div className="min-w-60 flex-1">
          <TextField
            label="What do you want to keep an eye on?"
            autoFocus
            placeholder="booking.ternferry.test"
            {...form.field('address')}
          />
        </div>
        <Button type="submit" look="strong" className="mt-7" disabled={form.busy}>
          {looking ? 'Looking…' : 'See what fits'}
        </Button>
      </OwnForm>
      {!choices && (
        <p className="text-muted text-[0.875rem]">
          Looks at it at once as a page, a port, a name, a certificate and by ping. What answers is ticked;
          one click saves it all.
        </p>
      )}
      {choices && (
        <>
          <ul>
            {choices.map((choice, i) => (
              <li
                key={choice.kind}
                className="border-rule flex flex-wrap items-center gap-x-3 gap-y-1 border-t py-2"
              >
                <label className="flex w-36 items-center gap-2 font-semibold">
                  <input
                    type="checkbox"
                    className="accent-button size-4"
                    checked={choice.ticked}
                    onChange={(event) => change(i, { ticked: event.target.checked })}
                  />
                  {choice.title}
                </label>
                <input
                  aria-label={`Name of the ${choice.title} watch`}
                  className={`${INPUT_CLASS} max-w-80`}
                  value={choice.name}
                  onChange={(event) => change(i, { name: event.target.value })}
                />
                <span className={choice.fits ? 'text-fine' : 'text-muted'}>{choice.said}</span>
              </li>
            ))}
          </ul>
          <div>
            <Button
              look="strong"
              disabled={form.busy || count === 0}
              onClick={() => void form.whileBusy(save)}
            >
              {saving ? 'Saving…' : `Save ${count} ${count === 1 ? 'watch' : 'watches'}`}
            </Button>
          </div>
        </>
      )}
      <FormMessage text={form.said?.text ?? null} />
    </section>
  );
}
