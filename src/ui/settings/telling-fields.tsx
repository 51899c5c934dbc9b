'use client';

import { TELLS, TELLS_WORDS, type Tells } from '@/core/settings/tells';
import { Ticks } from '@/ui/form/ticks';
import { URGENCIES, URGENCY_WORDS } from '@/core/settings/urgency';
import { AreaField, SelectField } from '@/ui/form/fields';
import { SharedField } from './shared-field';
import { SharedText, type SharedParts } from './shared-inputs';
import type { WatchFormValues } from './watch-form-values';

const NAMES = ['urgency', 'runbook', 'runbookNote', 'tells', 'tellsTo'] as const;

interface TellingParts extends SharedParts {
  channels: readonly { id: number; name: string }[];
}

/** What messages say of it, and how much it matters; folded away under its own summary. */
export function TellingFields({ shown, ...parts }: TellingParts & { shown: WatchFormValues }) {
  const urgency = URGENCIES.find((one) => one === shown.urgency) ?? 'soon';
  const help = shown.runbook !== '' || shown.runbookNote !== '' ? 'with what to do' : 'no runbook';
  return (
    <details className="sheet px-4 py-3" open={NAMES.some((name) => name in parts.errors) || undefined}>
      <summary className="cursor-pointer font-semibold">
        When it is down{' '}
        <span className="text-muted font-normal">
          {URGENCY_WORDS[urgency]}, {help}
          {shown.tells !== 'by-routes' && `, told: ${TELLS_WORDS[shown.tells as Tells]}`}
        </span>
      </summary>
      <div className="mt-4">
        <TellingGrid {...parts} />
      </div>
    </details>
  );
}

/** The same fields, laid open. */
export function TellingGrid({ values, form, set, errors, channels }: TellingParts) {
  const tells = form.owns('tells') ? values.tells : form.held('tells');
  const own = tells === 'besides' || tells === 'instead';
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
      <SharedField name="tells" label="Who hears" form={form}>
        <SelectField
          label="Who hears"
          help="Where nobody does, its troubles are recorded all the same."
          error={errors.tells}
          value={values.tells}
          options={TELLS.map((value) => ({ value, text: TELLS_WORDS[value] }))}
          onChoose={(tells) => set('tells', tells)}
        />
      </SharedField>
      {own && (
        <div className="sm:col-span-2">
          <SharedField name="tellsTo" label="Channels of its own" form={form}>
            <Ticks
              label="Channels of its own"
              options={channels.map(({ id, name }) => ({ value: String(id), text: name }))}
              chosen={values.tellsTo.map(String)}
              onChange={(ids) => set('tellsTo', ids.map(Number))}
            />
            {channels.length === 0 && <p className="text-muted">There is no channel yet.</p>}
            {errors.tellsTo && (
              <p className="text-down-text text-[0.875rem] font-semibold">{errors.tellsTo}</p>
            )}
          </SharedField>
        </div>
      )}
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
