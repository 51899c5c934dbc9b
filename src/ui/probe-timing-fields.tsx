'use client';

import { formatDuration } from '../core/duration';
import { DurationField } from './duration-field';
import { CronFields } from './cron-fields';
import { DuePreview } from './due-preview';
import { Field, INPUT_CLASS, TextField } from './fields';
import type { SetValue, WatchFormValues } from './watch-form-values';

interface ProbeTimingFieldsProps {
  values: WatchFormValues;
  set: SetValue;
  errors: Record<string, string>;
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
];

/** How often a probe looks, how long it waits, and when it is sure. */
export function ProbeTimingFields({ values, set, errors, now }: ProbeTimingFieldsProps) {
  const said = (seconds: number) => (Number.isNaN(seconds) ? '…' : formatDuration(seconds * 1000));
  const wrong = FIELDS.some((name) => name in errors);
  return (
    <details className="sheet px-4 py-3" open={wrong || undefined}>
      <summary className="cursor-pointer font-semibold">
        Pace and patience{' '}
        <span className="text-muted font-normal">
          {values.byCron ? 'looks at set times' : `looks every ${said(values.every)}`}, waits{' '}
          {said(values.timeout)}, {values.secondLooks || '…'} second looks {said(values.secondLookGap)} apart
        </span>
      </summary>
      <div className="mt-4 grid gap-5 sm:grid-cols-2">
        <Field
          label="When it looks"
          help="At set times: in working hours only, or at minute 5 of every hour."
        >
          {(props) => (
            <select
              {...props}
              className={INPUT_CLASS}
              value={values.byCron ? 'cron' : 'period'}
              onChange={(event) => set('byCron', event.target.value === 'cron')}
            >
              <option value="period">every so often</option>
              <option value="cron">at set times (cron)</option>
            </select>
          )}
        </Field>
        {values.byCron && (
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
        )}
        {!values.byCron && (
          <DurationField
            label="Looks every"
            help="From 5 seconds to 30 days."
            error={errors.every}
            seconds={values.every}
            onChange={(seconds) => set('every', seconds)}
          />
        )}
        <DurationField
          label="Waits at most"
          help="A look that takes longer has failed."
          error={errors.timeout}
          seconds={values.timeout}
          onChange={(seconds) => set('timeout', seconds)}
        />
        <TextField
          label="Second looks"
          help="How many more looks have to fail before it counts as down."
          inputMode="numeric"
          error={errors.secondLooks}
          value={values.secondLooks}
          onChange={(event) => set('secondLooks', event.target.value)}
        />
        <DurationField
          label="Second looks are apart"
          help="The time between them."
          error={errors.secondLookGap}
          seconds={values.secondLookGap}
          onChange={(seconds) => set('secondLookGap', seconds)}
        />
        <TextField
          label="Slow over, in milliseconds"
          help="Leave empty for no limit. Three slow looks in a row make it slow."
          inputMode="numeric"
          error={errors.slowAfter}
          value={values.slowAfter}
          onChange={(event) => set('slowAfter', event.target.value)}
        />
      </div>
    </details>
  );
}
