import type { FieldDescription } from './field-description';

/** What a field may have besides its name, its label, its help and its control. */
type More = Omit<FieldDescription, 'name' | 'label' | 'help' | 'control' | 'options'>;

type Build = (name: string, label: string, help: string, more?: More) => FieldDescription;

function builder(control: FieldDescription['control']): Build {
  return (name, label, help, more = {}) => ({ name, label, help, control, ...more });
}

export const text = builder('text');
export const area = builder('textarea');
export const number = builder('number');
export const toggle = builder('switch');
export const secret = builder('secret');
export const secretArea = builder('secret-area');
export const rows = builder('rows');
export const watches = builder('watches');

/** One of several values, each with the words it goes by; values that are their own words come as a list. */
export function choice(
  name: string,
  label: string,
  help: string,
  of: Readonly<Record<string, string>> | readonly string[],
  more: More = {},
): FieldDescription {
  const pairs = Array.isArray(of)
    ? (of as readonly string[]).map((value) => [value, value] as const)
    : Object.entries(of as Record<string, string>);
  const options = pairs.map(([value, words]) => ({ value, text: words }));
  return { name, label, help, control: 'select', options, ...more };
}
