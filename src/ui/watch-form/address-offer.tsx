'use client';

import { useRouter } from 'next/navigation';
import { useState, type FormEvent } from 'react';
import { Button } from '@/ui/basic/button';
import { callApi, problemText } from '@/ui/basic/call-api';
import { FormMessage, INPUT_CLASS } from '@/ui/form/fields';
import type { Offer } from '@/core/settings/offer';

interface Choice extends Offer {
  ticked: boolean;
}

/** Type an address: it is looked at at once in every way that could fit; what answered is ticked already. */
export function AddressOffer() {
  const router = useRouter();
  const [typed, setTyped] = useState('');
  const [choices, setChoices] = useState<Choice[] | null>(null);
  const [busy, setBusy] = useState<'' | 'look' | 'save'>('');
  const [problem, setProblem] = useState<string | null>(null);

  const look = async (event: FormEvent) => {
    event.preventDefault();
    setBusy('look');
    setProblem(null);
    const result = await callApi<Offer[]>('POST', '/offers', { address: typed });
    setBusy('');
    setChoices(result.ok ? result.value.map((offer) => ({ ...offer, ticked: offer.fits })) : null);
    if (!result.ok) setProblem(problemText(result));
  };
  const change = (i: number, part: Partial<Choice>) =>
    setChoices((old) => old?.map((choice, at) => (at === i ? { ...choice, ...part } : choice)) ?? null);
  const save = async () => {
    setBusy('save');
    setProblem(null);
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
        setProblem(`${name}: ${problemText(result)}`);
      }
    }
    setBusy('');
    if (failed || made.length === 0) return;
    router.push(made.length === 1 ? `/watches/${made[0]}` : '/');
    router.refresh();
  };
  const count = choices?.filter((choice) => choice.ticked).length ?? 0;

  return (
    <section className="sheet flex flex-col gap-3 p-5" aria-label="See what fits" aria-live="polite">
      <form onSubmit={look} noValidate className="flex flex-wrap items-end gap-3">
        <label className="min-w-60 flex-1 font-semibold">
          What do you want to keep an eye on?
          <input
            autoFocus
            className={`${INPUT_CLASS} mt-1 font-normal`}
            placeholder="booking.ternferry.test"
            value={typed}
            onChange={(event) => setTyped(event.target.value)}
          />
        </label>
        <Button type="submit" look="strong" disabled={busy !== ''}>
          {busy === 'look' ? 'Looking…' : 'See what fits'}
        </Button>
      </form>
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
            <Button look="strong" disabled={busy !== '' || count === 0} onClick={() => void save()}>
              {busy === 'save' ? 'Saving…' : `Save ${count} ${count === 1 ? 'watch' : 'watches'}`}
            </Button>
          </div>
        </>
      )}
      <FormMessage text={problem} />
    </section>
  );
}
