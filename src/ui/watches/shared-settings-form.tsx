'use client';

import { useRouter } from 'next/navigation';
import { useState, type FormEvent } from 'react';
import { typeOfKind } from '@/core/settings/cascade';
import { capitalise, countWatches } from '@/core/text/words';
import type { SharedView } from '@/views/settings/shared-settings';
import { Button } from '@/ui/basic/button';
import { callApi } from '@/ui/basic/call-api';
import { Effects, type Effect } from '@/ui/basic/effects';
import { ChangedMeanwhile } from '@/ui/form/changed-meanwhile';
import { FormMessage } from '@/ui/form/fields';
import { sharedForm } from '@/ui/settings/shared-form';
import { sharedFieldNames, SharedSettingsFields } from '@/ui/settings/shared-settings-fields';
import { sharedBodyOf, sharedFormOf } from '@/ui/settings/watch-form-values';

interface SharedSettingsFormProps {
  view: SharedView;
  /** What was read of all that is shared. */
  version: string;
  zone: string;
  now: number;
}

/** Settings for everything, a kind or a section; what they change is shown before they are saved. */
export function SharedSettingsForm({ view, version, zone, now }: SharedSettingsFormProps) {
  const router = useRouter();
  const { place, kinds, watches, fields, held } = view;
  const [values, setAll] = useState(() => sharedFormOf(place, view.values, zone));
  const [effects, setEffects] = useState<Effect[] | null>(null);
  const [errors, setErrors] = useState<Record<string, string>>({});
  const [said, setSaid] = useState<{ text: string; good: boolean } | null>(null);
  const [busy, setBusy] = useState(false);
  const [meanwhile, setMeanwhile] = useState<string | null>(null);
  /** What was shown does not hold any more once something is changed. */
  const setValues: typeof setAll = (next) => {
    setEffects(null);
    setSaid(null);
    setAll(next);
  };
  const varying = new Set(held.varying);
  const plain = sharedForm({ values, setValues, held, kinds, watches });
  const form = {
    ...plain,
    heldFrom: (name: string) =>
      `${plain.heldFrom(name)}${varying.has(name) ? '; some kinds have another' : ''}`,
  };
  const type = place.level === 'kind' ? typeOfKind(place.kind) : null;
  const names = sharedFieldNames(type, fields);
  const send = async (preview: boolean, read = version) => {
    setBusy(true);
    const body = { ...place, ...sharedBodyOf(values, names), preview };
    const result = await callApi<{ watches: Effect[] }>('PATCH', '/shared-settings', body, read);
    setBusy(false);
    setErrors(result.ok ? {} : result.fields);
    setMeanwhile(!result.ok && result.code === 'state.changed' ? result.detail : null);
    if (!result.ok && result.code === 'state.changed') return;
    if (!result.ok) {
      setEffects(null);
      return setSaid({ text: result.detail, good: false });
    }
    if (preview) return setEffects(result.value.watches);
    setEffects(null);
    setSaid({ text: `Saved. ${capitalise(countWatches(result.value.watches.length))} changed.`, good: true });
    router.refresh();
  };
  const ask = (event: FormEvent) => {
    event.preventDefault();
    void send(true);
  };
  return (
    <form onSubmit={ask} noValidate className="flex flex-col gap-6" aria-label="Shared settings">
      <SharedSettingsFields {...{ type, fields, values, setValues, form, errors, watches, now }} />
      <div className="sheet sticky bottom-3 flex flex-col gap-3 p-4">
        {meanwhile !== null && (
          <ChangedMeanwhile detail={meanwhile} busy={busy} onOver={() => void send(effects === null, '*')} />
        )}
        {effects && <Effects effects={effects} />}
        <div className="flex flex-wrap items-center gap-3">
          {effects ? (
            <Button look="strong" disabled={busy} onClick={() => void send(false)}>
              {busy ? 'Saving…' : effects.length === 0 ? 'Save' : `Save for ${countWatches(effects.length)}`}
            </Button>
          ) : (
            <Button type="submit" look="strong" disabled={busy}>
              {busy ? 'Working it out…' : 'Show what changes'}
            </Button>
          )}
          <FormMessage text={said?.text ?? null} good={said?.good} />
        </div>
      </div>
    </form>
  );
}
