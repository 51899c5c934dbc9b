'use client';

import { formatDuration } from '@/core/time/duration';
import { DurationField } from '@/ui/form/duration-field';
import { CronFields } from './cron-fields';
import { DuePreview } from './due-preview';
import { optionsOf, SelectField } from '@/ui/form/fields';
import { SharedField } from './shared-field';
import { SharedDuration, SharedText, type SharedParts } from './shared-inputs';
import type { WatchFormValues } from './watch-form-values';

interface ProbeTimingFieldsProps extends SharedParts {
  /** The same with what holds where nothing is set here. */
  shown: WatchFormValues;
  now: number;
}

const FIELDS = [
  'when.expression',
  'when.zone',
  'every',
  'timeout',
  'secondLooks',
  'secondLookGap',
  'slowAfter',
  'slowLooks',
];

/** How often a probe looks, how long it waits, and when it is sure; folded away under its own summary. */
export function ProbeTimingFields({ shown, ...rest }: ProbeTimingFieldsProps) {
  const said = (seconds: number) => (Number.isNaN(seconds) ? '…' : formatDuration(seconds * 1000));
  const wrong = FIELDS.some((name) => name in rest.errors);
  return (
    <details className="sheet px-4 py-3" open={wrong || undefined}>
      <summary className="cursor-pointer font-semibold">
        Pace and patience{' '}
        <span className="text-muted font-normal">
          {shown.byCron ? 'looks at set times' : `looks every ${said(shown.every)}`}, waits{' '}
          {said(shown.timeout)}, {shown.secondLooks || '…'} second looks {said(shown.secondLookGap)} apart
        </span>
      </summary>
      <div className="mt-4">
        <ProbeTimingGrid {...rest} />
      </div>
    </details>
  );
}

/** The same fields, laid open. */
export function ProbeTimingGrid({ values, form, set, errors, now }: Omit<ProbeTimingFieldsProps, 'shown'>) {
  const parts = { values, form, set, errors };
  return (
    <div className="grid items-start gap-5 sm:grid-cols-2">
      <div className={form.owns('every') ? 'sm:col-span-2' : ''}>
        <SharedField name="every" label="When it looks" form={form}>
          <PaceFields {...{ values, set, errors, now }} />
        </SharedField>
      </div>
      <SharedDuration
        name="timeout"
        label="Waits at most"
        help="A look that takes longer has failed."
        {...parts}
      />
      <SharedText
        name="secondLooks"
        label="Second looks"
        help="How many more looks have to fail before it counts as down."
        numeric
        {...parts}
      />
      <SharedDuration
        name="secondLookGap"
        label="Second looks are apart"
        help="The time between them."
        {...parts}
      />
      <SharedText
        name="slowAfter"
        label="Slow over"
        unit="in milliseconds"
        help="Leave empty for no limit."
        numeric
        {...parts}
      />
      <SharedText
        name="slowLooks"
        label="Slow looks in a row"
        help="How many of them make the watch slow."
        numeric
        {...parts}
      />
    </div>
  );
}

function PaceFields({
  values,
  set,
  errors,
  now,
}: Pick<ProbeTimingFieldsProps, 'values' | 'set' | 'errors' | 'now'>) {
  return (
    <div className="grid items-start gap-5 sm:grid-cols-2">
      <SelectField
        label="When it looks"
        help="At set times: in working hours only, or at minute 5 of every hour."
        value={values.byCron ? 'cron' : 'period'}
        options={optionsOf({ period: 'every so often', cron: 'at set times (cron)' })}
        onChoose={(one) => set('byCron', one === 'cron')}
      />
      {values.byCron ? (
        <>
          <CronFields
            values={values}
            set={set}
            errors={errors}
            path="when"
            zoneHelp="The zone these times are meant in."
          />
          <DuePreview
            schedule={{ type: 'cron', expression: values.expression, zone: values.zone }}
            now={now}
            zone={values.zone}
          />
        </>
      ) : (
        <DurationField
          label="Looks every"
          help="From 5 seconds to 30 days."
          error={errors.every}
          seconds={values.every}
          onChange={(seconds) => set('every', seconds)}
        />
      )}
    </div>
  );
}
