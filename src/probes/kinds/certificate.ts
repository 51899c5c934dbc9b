import { object } from 'yup';
import { formatDuration } from '@/core/time/duration';
import type { Finding } from '@/core/causes/finding';
import { Conversation, openConnection, secureConnection } from '@/probes/transport/connection';
import { hostFields } from '@/probes/fields/host-fields';
import type { LookContext, ProbeKind } from '@/probes/frame/kind';
import { carryOut } from '@/probes/frame/run';
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
  const finding = await carryOut(
    context,
    { host, port, timeoutMs: context.timeoutMs },
    () => [
      ['name', 'name'],
      ['port', `port ${port}`],
      ['certificate', 'certificate'],
    ],
    async (run) => {
      const socket = await openConnection(run, { host, port });
      if (starttls !== 'none') {
        const talk = new Conversation(run, socket);
        await askForTls(run, talk, starttls);
        talk.release();
      }
      const checks = { soonDays, urgentDays, leastProtocol, strongKey };
      await secureConnection(run, socket, tlsWish({ ...settings, skipVerify: false }, host, checks));
    },
  );
  // The certificate is all this watch is about: when it is urgent, waiting any longer is the failure.
  return finding.cause === 'tls.expires-urgent' ? { ...finding, verdict: 'failed' } : finding;
}

export const certificate: ProbeKind<CertificateSettings> = {
  id: 'certificate',
  title: 'certificate',
  help: 'Looks at the certificate of any port that speaks TLS. Web pages with https bring this along already.',
  schema,
  defaults: schema.getDefault() as unknown as CertificateSettings,
  every: 3600,
  fields: [
    ...hostFields('mail.ternferry.test', '443'),
    {
      name: 'starttls',
      label: 'How TLS begins',
      help: 'Some services begin in the clear and go over to TLS when asked.',
      control: 'select',
      options: [
        { value: 'none', text: 'from the first byte' },
        { value: 'smtp', text: 'SMTP with STARTTLS' },
        { value: 'imap', text: 'IMAP with STARTTLS' },
        { value: 'pop3', text: 'POP3 with STLS' },
        { value: 'postgresql', text: 'PostgreSQL' },
        { value: 'mysql', text: 'MySQL or MariaDB' },
      ],
    },
    {
      name: 'soonDays',
      shared: true,
      label: 'Soon, days before its end',
      help: 'From here on it is shown as wanting a hand, and one message says so.',
      control: 'number',
    },
    {
      name: 'urgentDays',
      shared: true,
      label: 'Urgent, days before its end',
      help: 'From here on it fails.',
      control: 'number',
    },
    {
      name: 'servername',
      label: 'Name on the certificate',
      help: 'Leave empty where it is the host itself.',
      control: 'text',
      extra: 'Limits',
    },
    {
      name: 'authority',
      shared: true,
      label: 'Trust this authority too',
      help: 'Its certificate (PEM), for a server with an authority of your own.',
      control: 'textarea',
      placeholder: '-----BEGIN CERTIFICATE-----',
      extra: 'Limits',
    },
    {
      name: 'leastProtocol',
      shared: true,
      label: 'Oldest protocol that is fine',
      help: 'TLS 1.0 and 1.1 are out of use (RFC 8996).',
      control: 'select',
      options: [
        { value: 'TLSv1', text: 'TLS 1.0' },
        { value: 'TLSv1.1', text: 'TLS 1.1' },
        { value: 'TLSv1.2', text: 'TLS 1.2' },
        { value: 'TLSv1.3', text: 'TLS 1.3' },
      ],
      extra: 'Limits',
    },
    {
      name: 'strongKey',
      shared: true,
      label: 'Ask for a strong key',
      help: 'RSA 2048 or EC 224 at least.',
      control: 'switch',
      extra: 'Limits',
    },
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
