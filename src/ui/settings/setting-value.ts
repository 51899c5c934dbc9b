import type { FieldDescription } from '@/core/settings/field-description';

export type Row = Record<string, string>;

/** A secret that is there and stays as it is. */
export interface Kept {
  kept: true;
}

/** What a field of a probe's settings holds in the form: texts as typed, so that nothing is lost. */
export type SettingValue = string | boolean | Kept | number[] | Row[];

export type SettingValues = Record<string, SettingValue>;

export function isKept(value: SettingValue | undefined): value is Kept {
  return typeof value === 'object' && !Array.isArray(value);
}

/** Settings as the server keeps them, for the form. */
export function settingValues(settings: object): SettingValues {
  return Object.fromEntries(
    Object.entries(settings).map(([name, value]: [string, unknown]) => {
      if (value === null || value === undefined) return [name, ''];
      if (typeof value === 'boolean' || Array.isArray(value)) return [name, value as SettingValue];
      if (typeof value === 'object') return [name, { kept: true }];
      return [name, String(value)];
    }),
  );
}

/** Whether a field is shown, as the others stand. */
export function isShown(field: FieldDescription, values: SettingValues): boolean {
  return field.when === undefined || field.when.is.includes(String(values[field.when.field] ?? ''));
}

/** Whether two values would be sent the same. */
export function isSame(a: SettingValue | undefined, b: SettingValue | undefined): boolean {
  return JSON.stringify(a ?? '') === JSON.stringify(b ?? '');
}
