'use client';

import { DurationField } from './duration-field';
import { CronFields } from './cron-fields';
import { TextField } from './fields';
import { SharedField, type SharedForm } from './shared-field';
import type { SetValue, WatchFormValues } from './watch-form-values';

interface CheckinFieldsProps {
  values: WatchFormValues;
  form: SharedForm;
  set: SetValue;
  errors: Record<string, string>;
}

const TYPES = [
  { id: 'cron', text: 'At set times (cron)' },
  { id: 'period', text: 'Every so often' },
] as const;

/** When a job is expected, how late it may be, how long it may run. */
export function CheckinFields({ values, form, set, errors }: CheckinFieldsProps) {
  return (
    <>
      <fieldset>
        <legend className="mb-1 font-semibold">When does it run?</legend>
        <div className="flex flex-wrap gap-5">
          {TYPES.map((type) => (
            <label key={type.id} className="flex items-center gap-2">
              <input
                type="radio"
                name="schedule"
                checked={values.scheduleType === type.id}
                onChange={() => set('scheduleType', type.id)}
              />
              {type.text}
            </label>
          ))}
        </div>
      </fieldset>
      {values.scheduleType === 'cron' ? (
        <CronFields
          values={values}
          set={set}
          errors={errors}
          path="schedule"
          zoneHelp="The zone of the machine the job runs on."
        />
      ) : (
        <DurationField
          label="Every"
          help="No more than this may pass between two check-ins."
          error={errors['schedule.every']}
          seconds={values.period}
          onChange={(seconds) => set('period', seconds)}
        />
      )}
      <CheckinTimingGrid {...{ values, form, set, errors }} />
    </>
  );
}

/** How late a check-in may be, and how long a run may take. */
export function CheckinTimingGrid({ values, form, set, errors }: CheckinFieldsProps) {
  return (
    <div className="grid items-start gap-5 sm:grid-cols-2">
      <SharedField name="leeway" label="Leeway" form={form}>
        <DurationField
          label="Leeway"
          help="How late a check-in may be before it counts as missed."
          error={errors.leeway}
          seconds={values.leeway}
          onChange={(seconds) => set('leeway', seconds)}
        />
      </SharedField>
      <SharedField name="longestRun" label="Longest run" form={form}>
        <TextField
          label="Longest run, in minutes"
          help="Needs the job to report begun and done. Leave empty for no limit."
          inputMode="numeric"
          error={errors.longestRun}
          value={values.longestRun}
          onChange={(event) => set('longestRun', event.target.value)}
        />
      </SharedField>
    </div>
  );
}
