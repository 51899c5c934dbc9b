'use client';

import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { typeOfKind } from '@/core/settings/cascade';
import { capitalise, countWatches } from '@/core/text/words';
import type { SharedView } from '@/views/settings/shared-settings';
import { Button } from '@/ui/basic/button';
import { Effects, type Effect } from '@/ui/basic/effects';
import { FormEnd } from '@/ui/form/form-end';
import { useApiForm } from '@/ui/form/use-api-form';
import { sharedForm } from '@/ui/settings/shared-form';
import { sharedFieldNames, SharedSettingsFields } from '@/ui/settings/shared-settings-fields';
import { sharedBodyOf, sharedFormOf } from '@/ui/settings/watch-form-values';
import { OwnForm } from '@/ui/form/own-form';

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
  const { place, kinds, watches, channels, fields, held } = view;
  const api = useApiForm(() => sharedFormOf(place, view.values, zone), { long: true, version });
  const { values, errors, busy } = api;
  const [workedOut, setEffects] = useState<Effect[] | null>(null);
  /** What was refused takes back what was worked out; that somebody else changed something does not. */
  const effects = api.said === null ? workedOut : null;
  /** What was shown does not hold any more once something is changed. */
  const setValues: typeof api.setValues = (next) => {
    setEffects(null);
    api.say('');
    api.setValues(next);
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
  const send = async (preview: boolean, over = false) => {
    const body = { ...place, ...sharedBodyOf(values, names), preview };
    const sent = await api.send<{ watches: Effect[] }>('PATCH', '/shared-settings', body, over);
    if (preview && sent) return setEffects(sent.value.watches);
    if (!sent) return;
    setEffects(null);
    api.say(`Saved. ${capitalise(countWatches(sent.value.watches.length))} changed.`, true);
    router.refresh();
  };
  return (
    <OwnForm onSend={() => send(true)} className="flex flex-col gap-6" aria-label="Shared settings">
      <SharedSettingsFields {...{ type, fields, values, setValues, form, errors, watches, channels, now }} />
      <div className="sheet sticky bottom-3 flex flex-col gap-3 p-4">
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
        </div>
        <FormEnd form={api} onOver={() => void send(effects === null, true)} />
      </div>
    </OwnForm>
  );
}
