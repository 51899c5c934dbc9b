'use client';

import type { Audience } from '@/core/pages/page';
import { CopyLine } from '@/ui/basic/copy-line';
import { KeptPassword, SelectField, SwitchField, TextField } from '@/ui/form/fields';
import type { ApiForm } from '@/ui/form/use-api-form';
import { HostCheck } from './host-check';
import type { PageValues } from './values';

const AUDIENCES: { value: Audience; text: string }[] = [
  { value: 'everyone', text: 'everyone' },
  { value: 'link', text: 'anyone with the secret link' },
  { value: 'password', text: 'anyone who knows the password' },
  { value: 'signed-in', text: 'those who are signed in here' },
];

interface AudienceProps {
  form: ApiForm<PageValues>;
  /** Whether a password stands already. */
  hasPassword: boolean;
  /** Where it is found now; null for a page that is not saved yet. */
  address: string | null;
  /** The name of this machine as visitors reach it, for names of the page's own to point at. */
  machine: string;
}

/** The line for whoever keeps the names: a name points at another name, or at an address (RFC 1035, RFC 3596). */
function nameRecord(host: string, machine: string): string {
  const bare = machine.replace(/^\[|\]$/g, '');
  if (bare.includes(':')) return `${host}. AAAA ${bare}`;
  return /^[\d.]+$/.test(bare) ? `${host}. A ${bare}` : `${host}. CNAME ${bare}.`;
}

/** Who may see the page, and by which name. */
export function AudienceFields({ form, hasPassword, address, machine }: AudienceProps) {
  const { values, set, errors } = form;
  return (
    <>
      <SelectField
        label="Who may see it"
        value={values.audience}
        options={AUDIENCES}
        onChoose={(audience) => set({ audience: audience as Audience })}
        help={
          values.audience === 'link'
            ? 'The address gets a secret part; the page is found by nothing else.'
            : undefined
        }
      />
      {values.audience === 'link' && address && <CopyLine text={address} label="The secret link" />}
      {values.audience === 'password' && (
        <KeptPassword
          label="Password"
          stands={hasPassword}
          rule="At least 8 characters."
          {...form.field('password')}
        />
      )}
      {values.audience === 'everyone' && (
        <SwitchField
          label="Search engines may list it"
          checked={values.listed}
          onChange={(event) => set({ listed: event.target.checked })}
        />
      )}
      <TextField
        label="A name of its own"
        placeholder="status.ternferry.test"
        help="May be empty. Visitors then find the page at that name alone."
        value={values.host ?? ''}
        error={errors.host}
        onChange={(event) => set({ host: event.target.value.trim() === '' ? null : event.target.value })}
      />
      {values.host !== null && values.host !== '' && (
        <div className="flex flex-col gap-2 text-[0.9062rem]">
          <CopyLine text={nameRecord(values.host.trim(), machine)} label="Where names are kept" />
          <CopyLine text={`server_name ${values.host};`} label="In the proxy, for it to take the name" />
          <CopyLine text="proxy_set_header Host $host;" label="And to hand it on" />
          <HostCheck host={values.host.trim()} />
        </div>
      )}
    </>
  );
}
