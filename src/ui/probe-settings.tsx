'use client';

import type { FieldDescription } from '../probes/kind';
import { ProbeField } from './probe-field';
import { isSame, isShown, type SettingValue, type SettingValues } from './setting-value';
import type { PickableWatch } from './watch-picker';

interface ProbeSettingsProps {
  fields: readonly FieldDescription[];
  values: SettingValues;
  defaults: SettingValues;
  onChange: (name: string, value: SettingValue) => void;
  errors: Record<string, string>;
  watches: readonly PickableWatch[];
  autoFocus: boolean;
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
  autoFocus,
}: ProbeSettingsProps) {
  const all = { ...defaults, ...values };
  const shown = fields.filter((field) => isShown(field, all));
  const groups = [...new Set(shown.map((field) => field.extra).filter((extra) => extra !== undefined))];
  const show = (field: FieldDescription, focus = false) => (
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
      {groups.map((group) => {
        const inside = shown.filter((field) => field.extra === group);
        const set = inside.filter((field) => !isSame(all[field.name], defaults[field.name]));
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
