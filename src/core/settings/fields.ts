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

/** A value, and the words it goes by. */
type Choice = string | readonly [value: string, words: string];

/** One of several values, in this order; a value without words is its own. */
export function choice(
  name: string,
  label: string,
  help: string,
  of: readonly Choice[],
  more: More = {},
): FieldDescription {
  const options = of.map((one) => {
    const [value, words] = typeof one === 'string' ? [one, one] : one;
    return { value, text: words };
  });
  return { name, label, help, control: 'select', options, ...more };
}
