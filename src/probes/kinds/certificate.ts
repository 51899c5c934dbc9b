import { lookAtPort } from '@/probes/frame/look-at-port';
import * as f from '@/core/settings/fields';
import { object } from 'yup';
import { formatDuration } from '@/core/time/duration';
import type { Finding } from '@/core/causes/finding';
import { Conversation, openConnection, secureConnection } from '@/probes/transport/connection';
import { hostFields } from '@/probes/fields/host-fields';
import { checkedBy, type LookContext, type ProbeKind } from '@/probes/frame/kind';
import * as s from '@/probes/fields/schema';
import { askForTls, STARTTLS, type StartTls } from '@/probes/transport/starttls';
import { tlsWish } from '@/probes/fields/tls-wish';

interface CertificateSettings {
  host: string;
  port: number;
  starttls: 'none' | StartTls;
  soonDays: number;
  urgentDays: number;
  servername: string;
  authority: string;
  leastProtocol: 'TLSv1' | 'TLSv1.1' | 'TLSv1.2' | 'TLSv1.3';
  strongKey: boolean;
}

const schema = object({
  host: s.host(),
  port: s.port(443),
  starttls: s.oneOf('How TLS begins.', ['none', ...STARTTLS] as const, 'none'),
  soonDays: s.someNumber('Days before its end from which it is a matter of soon.', 0, 365, 21),
  urgentDays: s.someNumber('Days before its end from which it fails.', 0, 365, 5),
  servername: s.text('The name the certificate must be for, where it is not the host itself.', 253),
  authority: s.pem('An authority to trust besides those of this machine (PEM).'),
  leastProtocol: s.oneOf(
    'The oldest protocol version that is fine.',
    ['TLSv1', 'TLSv1.1', 'TLSv1.2', 'TLSv1.3'] as const,
    'TLSv1.2',
  ),
  strongKey: s.flag('Asks for a key of 112 bits of strength at least.', true),
});

async function look(given: CertificateSettings, context: LookContext): Promise<Finding> {
  const settings = { ...certificate.defaults, ...given };
  const { host, port, starttls, soonDays, urgentDays, leastProtocol, strongKey } = settings;
  const finding = await lookAtPort(context, settings, { tls: true }, async (run) => {
    const socket = await openConnection(run, { host, port });
    if (starttls !== 'none') {
      const talk = new Conversation(run, socket);
      await askForTls(run, talk, starttls);
      talk.release();
    }
    const checks = { soonDays, urgentDays, leastProtocol, strongKey };
    await secureConnection(run, socket, tlsWish({ ...settings, skipVerify: false }, host, checks));
  });
  // The certificate is all this watch is about: when it is urgent, waiting any longer is the failure.
  return finding.cause === 'tls.expires-urgent' ? { ...finding, verdict: 'failed' } : finding;
}

export const certificate: ProbeKind<CertificateSettings> = {
  id: 'certificate',
  title: 'certificate',
  help: 'Looks at the certificate of any port that speaks TLS. Web pages with https bring this along already.',
  ...checkedBy<CertificateSettings>(schema),
  every: 3600,
  fields: [
    ...hostFields('mail.ternferry.test', '443'),
    f.choice(
      'starttls',
      'How TLS begins',
      'Some services begin in the clear and go over to TLS when asked.',
      [
        ['none', 'from the first byte'],
        ['smtp', 'SMTP with STARTTLS'],
        ['imap', 'IMAP with STARTTLS'],
        ['pop3', 'POP3 with STLS'],
        ['postgresql', 'PostgreSQL'],
        ['mysql', 'MySQL or MariaDB'],
      ],
    ),
    f.number(
      'soonDays',
      'Soon, days before its end',
      'From here on it is shown as wanting a hand, and one message says so.',
      { shared: true },
    ),
    f.number('urgentDays', 'Urgent, days before its end', 'From here on it fails.', { shared: true }),
    f.text('servername', 'Name on the certificate', 'Leave empty where it is the host itself.', {
      extra: 'Limits',
    }),
    f.area(
      'authority',
      'Trust this authority too',
      'Its certificate (PEM), for a server with an authority of your own.',
      { shared: true, placeholder: '-----BEGIN CERTIFICATE-----', extra: 'Limits' },
    ),
    f.choice(
      'leastProtocol',
      'Oldest protocol that is fine',
      'TLS 1.0 and 1.1 are out of use (RFC 8996).',
      [
        ['TLSv1', 'TLS 1.0'],
        ['TLSv1.1', 'TLS 1.1'],
        ['TLSv1.2', 'TLS 1.2'],
        ['TLSv1.3', 'TLS 1.3'],
      ],
      { shared: true, extra: 'Limits' },
    ),
    f.toggle('strongKey', 'Ask for a strong key', 'RSA 2048 or EC 224 at least.', {
      shared: true,
      extra: 'Limits',
    }),
  ],
  hostOf: (settings) => settings.host,
  targetOf: (settings) => `${settings.host} port ${settings.port}`,
  nameOf: (settings) =>
    `${settings.host} (certificate${settings.port === 443 ? '' : ` on ${settings.port}`})`,
  walkTo: ({ host, port, starttls, servername }) => ({
    host,
    port,
    tls: starttls === 'none',
    servername: servername || host,
  }),
  verdictSentence: ({ urgentDays, soonDays }, timeoutMs) =>
    `Fails when there is no TLS within ${formatDuration(timeoutMs)}, when the certificate is not valid, or when fewer than ${urgentDays} days are left; wants a hand from ${soonDays} days on.`,
  look,
};
