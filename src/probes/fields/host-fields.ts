import * as f from '@/core/settings/fields';
import type { FieldDescription } from '@/core/settings/field-description';

import { COMPARISONS } from '@/core/expect/compare';

/** The two fields most kinds begin with. */
export function hostFields(example: string, port: string): FieldDescription[] {
  return [
    f.text('host', 'Host', 'A name or an address.', { placeholder: example }),
    f.number('port', 'Port', 'From 1 to 65535.', { placeholder: port }),
  ];
}

export function signInFields(extra?: string): FieldDescription[] {
  return [
    f.text('user', 'Account', 'Leave empty for no sign-in.', { extra }),
    f.secret('password', 'Password', 'Kept sealed and not shown again.', { extra }),
  ];
}

/** Headers with keys and tokens in them, a line each. */
export function secretHeadersField(
  help: string,
  more: Pick<FieldDescription, 'extra' | 'when'>,
): FieldDescription {
  return f.secretArea('secretHeaders', 'Secret headers', `${help} Kept sealed and not shown again.`, more);
}

/** What must hold for a value that is read, and what it is compared with. */
export function valueFields(
  label: string,
  more: Pick<FieldDescription, 'extra' | 'when'> = {},
): FieldDescription[] {
  const compared = COMPARISONS.filter((name) => !name.endsWith('there'));
  return [
    f.choice('comparison', label, 'What must hold for it.', COMPARISONS, more),
    f.text('value', 'Compared with', 'A number or a text.', {
      ...more,
      when: { field: 'comparison', is: compared },
    }),
  ];
}
