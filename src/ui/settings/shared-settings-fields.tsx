'use client';

import type { Dispatch, SetStateAction } from 'react';
import { MAIL_NAMES } from '@/core/reports/mail-words';
import type { FieldDescription } from '@/core/settings/field-description';
import { CheckinTimingGrid } from './checkin-fields';
import { MailFields } from './mail-fields';
import { ProbeField } from './probe-field';
import { ProbeTimingGrid } from './probe-timing-fields';
import { SharedField, type SharedForm } from './shared-field';
import { TellingGrid } from './telling-fields';
import type { SetValue, WatchFormValues } from './watch-form-values';
import { WatchPicker, type PickableWatch } from '@/ui/form/watch-picker';

const PROBE = ['every', 'when', 'timeout', 'secondLooks', 'secondLookGap', 'slowAfter', 'slowLooks'];
const CHECKIN = ['leeway', 'longestRun', 'shortestGap', 'methods', ...MAIL_NAMES];

/** The names of the settings these fields are for; null for probes and check-ins alike. */
export function sharedFieldNames(
  type: 'probe' | 'checkin' | null,
  fields: readonly FieldDescription[],
): string[] {
  return [
    ...(type === 'checkin' ? [] : PROBE),
    ...(type === 'probe' ? [] : CHECKIN),
    'restsOn',
    'urgency',
    'runbook',
    'runbookNote',
    'tells',
    'tellsTo',
    ...fields.map((field) => `settings.${field.name}`),
  ];
}

interface SharedSettingsFieldsProps {
  /** Probes, check-ins, or null for both. */
  type: 'probe' | 'checkin' | null;
  fields: readonly FieldDescription[];
  values: WatchFormValues;
  setValues: Dispatch<SetStateAction<WatchFormValues>>;
  form: SharedForm;
  errors: Record<string, string>;
  watches: readonly PickableWatch[];
  channels: readonly { id: number; name: string }[];
  now: number;
}

/** Every setting that can hold for many watches. */
export function SharedSettingsFields({
  type,
  fields,
  values,
  setValues,
  form,
  errors,
  watches,
  channels,
  now,
}: SharedSettingsFieldsProps) {
  const set: SetValue = (key, value) => setValues((old) => ({ ...old, [key]: value }));
  const headings = [...new Set(fields.map((field) => field.extra ?? 'More'))];
  return (
    <>
      {type !== 'checkin' && (
        <section className="flex flex-col gap-3">
          <h2>Looks</h2>
          <ProbeTimingGrid {...{ values, form, set, errors, now }} />
        </section>
      )}
      {type !== 'probe' && (
        <section className="flex flex-col gap-3">
          <h2>Check-ins</h2>
          <CheckinTimingGrid {...{ values, form, set, errors }} />
          <h3 className="mt-2 font-semibold">Reports by mail</h3>
          <MailFields {...{ values, form, set, errors }} />
        </section>
      )}
      {headings.map((heading) => (
        <section key={heading} className="flex flex-col gap-3">
          <h2>{heading}</h2>
          <div className="grid items-start gap-5 sm:grid-cols-2">
            {fields
              .filter((field) => (field.extra ?? 'More') === heading)
              .map((field) => (
                <SharedField key={field.name} name={`settings.${field.name}`} label={field.label} form={form}>
                  <ProbeField
                    field={field}
                    value={values.settings[field.name]}
                    onChange={(value) =>
                      setValues((old) => ({ ...old, settings: { ...old.settings, [field.name]: value } }))
                    }
                    errors={errors}
                    watches={watches}
                  />
                </SharedField>
              ))}
          </div>
        </section>
      ))}
      <section className="flex flex-col gap-3">
        <h2>When they are down</h2>
        <TellingGrid {...{ values, form, set, errors, channels }} />
      </section>
      <section className="flex flex-col gap-3">
        <h2>Rests on</h2>
        <SharedField name="restsOn" label="They rest on these" form={form}>
          <WatchPicker
            label="They rest on these"
            help="A watch that is named here does not rest on itself. While one of these is down, the trouble of the others follows from it."
            error={errors.restsOn}
            watches={watches}
            chosen={values.restsOn}
            onChange={(restsOn) => set('restsOn', restsOn)}
          />
        </SharedField>
      </section>
    </>
  );
}
