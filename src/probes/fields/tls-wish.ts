import * as f from '@/core/settings/fields';
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
    f.text('servername', 'Name on the certificate', 'Leave empty where it is the host itself.', {
      extra,
      when,
    }),
    f.area(
      'authority',
      'Trust this authority too',
      'Its certificate (PEM), for a server with an authority of your own.',
      { shared: true, placeholder: '-----BEGIN CERTIFICATE-----', extra, when },
    ),
    f.toggle(
      'skipVerify',
      'Do not check the certificate',
      'Anybody in between could answer in its place. A warning stays on the watch.',
      { shared: true, extra, when },
    ),
  ];
}

/** The switch for TLS, and what is asked once it is on. */
export function tlsSwitch(label: string, help: string): FieldDescription[] {
  return [
    f.toggle('tls', label, help, { extra: 'Certificates' }),
    ...tlsFields({ field: 'tls', is: ['true'] }),
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
