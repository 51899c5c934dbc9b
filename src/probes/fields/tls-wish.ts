import { USUAL_CHECKS, type CertificateChecks } from '@/probes/transport/certificate-facts';
import type { TlsWish } from '@/probes/transport/connection';
import type { FieldDescription } from '@/core/settings/field-description';
import * as s from './schema';

/** What every kind asks that may speak TLS. */
export interface TlsSettings {
  servername: string;
  authority: string;
  skipVerify: boolean;
}

export const tlsShape = () => ({
  servername: s.text('The name the certificate must be for, where it is not the host itself.', 253),
  authority: s.pem('An authority to trust besides those of this machine (PEM).'),
  skipVerify: s.flag('Does not check the certificate.'),
});

export function tlsFields(when?: FieldDescription['when']): FieldDescription[] {
  const extra = 'Certificates';
  return [
    {
      name: 'servername',
      label: 'Name on the certificate',
      help: 'Leave empty where it is the host itself.',
      control: 'text',
      extra,
      when,
    },
    {
      name: 'authority',
      shared: true,
      label: 'Trust this authority too',
      help: 'Its certificate (PEM), for a server with an authority of your own.',
      control: 'textarea',
      placeholder: '-----BEGIN CERTIFICATE-----',
      extra,
      when,
    },
    {
      name: 'skipVerify',
      shared: true,
      label: 'Do not check the certificate',
      help: 'Anybody in between could answer in its place. A warning stays on the watch.',
      control: 'switch',
      extra,
      when,
    },
  ];
}

export function tlsWish(
  settings: TlsSettings,
  host: string,
  checks: CertificateChecks = USUAL_CHECKS,
): TlsWish {
  const { servername, authority, skipVerify } = settings;
  return { servername: servername || host, authority, skipVerify, checks };
}
