'use client';

import type { ReactNode } from 'react';
import type { FieldDescription } from '@/core/settings/field-description';
import { ProbeField } from './probe-field';
import { SharedField, type SharedForm } from './shared-field';
import { isSame, isShown, type SettingValue, type SettingValues } from './setting-value';
import type { PickableWatch } from '@/ui/form/watch-picker';

interface ProbeSettingsProps {
  fields: readonly FieldDescription[];
  values: SettingValues;
  defaults: SettingValues;
  onChange: (name: string, value: SettingValue) => void;
  errors: Record<string, string>;
  watches: readonly PickableWatch[];
  /** For settings that may come from farther away; null where none can. */
  form: SharedForm | null;
  autoFocus: boolean;
  /** What belongs right below the fields everybody fills in. */
  children?: ReactNode;
  /** What stands beside a field. */
  beside?: (field: FieldDescription) => ReactNode;
}

function hasError(field: FieldDescription, errors: Record<string, string>): boolean {
  const path = `settings.${field.name}`;
  return Object.keys(errors).some((name) => name === path || name.startsWith(`${path}[`));
}

/** The settings of a kind: what everybody fills in, then what few need, folded away under headings. */
export function ProbeSettings({
  fields,
  values,
  defaults,
  onChange,
  errors,
  watches,
  form,
  autoFocus,
  children,
  beside,
}: ProbeSettingsProps) {
  const all = { ...defaults, ...values };
  const shown = fields.filter((field) => isShown(field, all));
  const groups = [...new Set(shown.map((field) => field.extra).filter((extra) => extra !== undefined))];
  const show = (field: FieldDescription, focus = false) => {
    const control = (
      <ProbeField
        key={field.name}
        field={field}
        value={all[field.name]}
        onChange={(value) => onChange(field.name, value)}
        errors={errors}
        watches={watches}
        autoFocus={focus}
      />
    );
    if (!form || !field.shared)
      return beside ? (
        <div key={field.name} className="flex flex-col gap-2">
          {control}
          {beside(field)}
        </div>
      ) : (
        control
      );
    return (
      <SharedField key={field.name} name={`settings.${field.name}`} label={field.label} form={form}>
        {control}
      </SharedField>
    );
  };
  const isSet = (field: FieldDescription) =>
    form && field.shared
      ? form.owns(`settings.${field.name}`)
      : !isSame(all[field.name], defaults[field.name]);
  return (
    <>
      <div className="grid items-start gap-5 sm:grid-cols-2">
        {shown
          .filter((field) => !field.extra)
          .map((field, i) => (
            <div key={field.name} className={field.control === 'number' ? '' : 'sm:col-span-2'}>
              {show(field, autoFocus && i === 0)}
            </div>
          ))}
      </div>
      {children}
      {groups.map((group) => {
        const inside = shown.filter((field) => field.extra === group);
        const set = inside.filter(isSet);
        return (
          <details
            key={group}
            className="sheet px-4 py-3"
            open={inside.some((field) => hasError(field, errors)) || undefined}
          >
            <summary className="cursor-pointer font-semibold">
              {group}{' '}
              <span className="text-muted font-normal">
                {set.length === 0 ? 'as usual' : set.map((field) => field.label).join(', ')}
              </span>
            </summary>
            <div className="mt-4 grid items-start gap-5 sm:grid-cols-2">
              {inside.map((field) => show(field))}
            </div>
          </details>
        );
      })}
    </>
  );
}
