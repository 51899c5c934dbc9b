'use client';

import { URGENCIES, URGENCY_WORDS } from '@/core/settings/urgency';
import { AreaField, SelectField } from '@/ui/form/fields';
import { SharedField } from './shared-field';
import { SharedText, type SharedParts } from './shared-inputs';
import type { WatchFormValues } from './watch-form-values';

const NAMES = ['urgency', 'runbook', 'runbookNote'] as const;

/** What messages say of it, and how much it matters; folded away under its own summary. */
export function TellingFields({ shown, ...parts }: SharedParts & { shown: WatchFormValues }) {
  const urgency = URGENCIES.find((one) => one === shown.urgency) ?? 'soon';
  const help = shown.runbook !== '' || shown.runbookNote !== '' ? 'with what to do' : 'no runbook';
  return (
    <details className="sheet px-4 py-3" open={NAMES.some((name) => name in parts.errors) || undefined}>
      <summary className="cursor-pointer font-semibold">
        When it is down{' '}
        <span className="text-muted font-normal">
          {URGENCY_WORDS[urgency]}, {help}
        </span>
      </summary>
      <div className="mt-4">
        <TellingGrid {...parts} />
      </div>
    </details>
  );
}

/** The same fields, laid open. */
export function TellingGrid({ values, form, set, errors }: SharedParts) {
  return (
    <div className="grid items-start gap-5 sm:grid-cols-2">
      <SharedField name="urgency" label="Urgency" form={form}>
        <SelectField
          label="Urgency"
          help="A route may let only what is for any hour through while it rests."
          error={errors.urgency}
          value={values.urgency}
          options={URGENCIES.map((value) => ({ value, text: URGENCY_WORDS[value] }))}
          onChoose={(urgency) => set('urgency', urgency)}
        />
      </SharedField>
      <SharedText
        name="runbook"
        label="Runbook"
        help="The address where it is written what to do. It stands in messages."
        {...{ values, form, set, errors }}
      />
      <div className="sm:col-span-2">
        <SharedField name="runbookNote" label="What to do" form={form}>
          <AreaField
            label="What to do"
            help="In a few lines; they stand in messages."
            error={errors.runbookNote}
            value={values.runbookNote}
            onChange={(event) => set('runbookNote', event.target.value)}
          />
        </SharedField>
      </div>
    </div>
  );
}
