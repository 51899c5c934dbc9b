import type { FieldDescription } from '@/core/settings/field-description';

/** The two fields most kinds begin with. */
export function hostFields(example: string, port: string): FieldDescription[] {
  return [
    { name: 'host', label: 'Host', help: 'A name or an address.', control: 'text', placeholder: example },
    { name: 'port', label: 'Port', help: 'From 1 to 65535.', control: 'number', placeholder: port },
  ];
}

export function signInFields(extra?: string): FieldDescription[] {
  return [
    { name: 'user', label: 'Account', help: 'Leave empty for no sign-in.', control: 'text', extra },
    {
      name: 'password',
      label: 'Password',
      help: 'Kept sealed and not shown again.',
      control: 'secret',
      extra,
    },
  ];
}
