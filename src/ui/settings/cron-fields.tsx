'use client';

import { cronInWords } from '@/core/schedule/cron-words';
import { TextField, OfferedField } from '@/ui/form/fields';
import type { SetValue, WatchFormValues } from './watch-form-values';

interface CronFieldsProps {
  values: WatchFormValues;
  set: SetValue;
  errors: Record<string, string>;
  /** Where in the body the two stand. */
  path: string;
  zoneHelp: string;
}

/** A cron expression, in words below it, and the time zone it is meant in. */
export function CronFields({ values, set, errors, path, zoneHelp }: CronFieldsProps) {
  return (
    <div className="grid gap-5 sm:col-span-2 sm:grid-cols-2">
      <TextField
        label="Cron expression"
        help={cronInWords(values.expression) ?? 'Minute, hour, day, month, weekday; as in the crontab.'}
        className="figures border-edge bg-card w-full rounded-lg border px-3 py-2"
        error={errors[`${path}.expression`]}
        value={values.expression}
        onChange={(event) => set('expression', event.target.value)}
      />
      <ZoneField
        help={zoneHelp}
        error={errors[`${path}.zone`]}
        value={values.zone}
        onChange={(zone) => set('zone', zone)}
      />
    </div>
  );
}

interface ZoneFieldProps {
  help: string;
  error?: string;
  value: string;
  onChange: (zone: string) => void;
}

/** A time zone by its name, offered as it is typed. */
export function ZoneField({ help, error, value, onChange }: ZoneFieldProps) {
  return (
    <div>
      <OfferedField
        label="Time zone"
        help={help}
        error={error}
        value={value}
        offers={Intl.supportedValuesOf('timeZone')}
        onType={onChange}
      />
    </div>
  );
}
