'use client';

import type { ReactNode } from 'react';
import { DurationField } from '@/ui/form/duration-field';
import { TextField } from '@/ui/form/fields';
import { SharedField, type SharedForm } from './shared-field';
import type { SetValue, WatchFormValues } from './watch-form-values';

/** What every part of a form for shared settings is given. */
export interface SharedParts {
  values: WatchFormValues;
  form: SharedForm;
  set: SetValue;
  errors: Record<string, string>;
}

type NamesOf<T> = {
  [K in keyof WatchFormValues]: WatchFormValues[K] extends T ? K : never;
}[keyof WatchFormValues];

interface SharedInputProps<Name> extends SharedParts {
  name: Name;
  label: string;
  /** What stands behind the label of the field itself: a unit. */
  unit?: string;
  help: ReactNode;
  numeric?: boolean;
}

/** A text, or a number as text, that may come from farther away. */
export function SharedText(props: SharedInputProps<NamesOf<string>>) {
  const { name, label, unit, help, numeric, values, form, set, errors } = props;
  return (
    <SharedField name={name} label={label} form={form}>
      <TextField
        label={unit ? `${label}, ${unit}` : label}
        help={help}
        {...(numeric && { inputMode: 'numeric' as const })}
        error={errors[name]}
        value={values[name]}
        onChange={(event) => set(name, event.target.value)}
      />
    </SharedField>
  );
}

/** A length of time that may come from farther away. */
export function SharedDuration(props: SharedInputProps<NamesOf<number>>) {
  const { name, label, help, values, form, set, errors } = props;
  return (
    <SharedField name={name} label={label} form={form}>
      <DurationField
        label={label}
        help={help}
        error={errors[name]}
        seconds={values[name]}
        onChange={(seconds) => set(name, seconds)}
      />
    </SharedField>
  );
}
