import { createPrivateKey } from 'node:crypto';
import { createTransport } from 'nodemailer';
import { object, string } from 'yup';
import { forHtml } from '@/core/messages/safe-text';
import * as f from '@/core/settings/fields';
import { Blanker } from '@/core/text/secret-forms';
import { limitTime } from '@/outside/limit';
import { needed, port } from '@/channels/frame/fields';
import { allLines, TAKE_WORDS } from '@/channels/frame/all-lines';
import type { Answer, ChannelKind, Outgoing } from '@/channels/frame/kind';

export interface MailSettings {
  host: string;
  port: number;
  security: 'starttls' | 'tls' | 'none';
  user: string;
  password: string;
  from: string;
  to: string;
  /** The name in the server's certificate, where it is called otherwise here. */
  servername?: string;
  authority: string;
  /** Under which name of the sender's domain the public key is found (RFC 6376), and the private key; empty for neither. */
  dkimSelector?: string;
  dkimKey?: string;
}

const CONNECT_MS = 15_000;
const SEND_MS = 45_000;
const MOST_ANSWER = 300;
const MOST_READERS = 20;
/** One address, with a name before it or without (RFC 5322, what people write of it). */
const ADDRESS = /^(?:[^<>",\r\n]{0,80}<)?[^\s@<>",]{1,64}@[^\s@<>",]{1,200}>?$/;

function addressesOf(text: string): string[] {
  return text
    .split(/[,;\n]/)
    .map((one) => one.trim())
    .filter(Boolean);
}

function asHtml({ title, lines, link, take }: Outgoing): string {
  return [
    `<p style="font-family:Georgia,serif;font-size:20px;margin:0 0 12px">${forHtml(title)}</p>`,
    ...lines.map(
      (line) => `<p style="font-family:sans-serif;font-size:15px;margin:0 0 8px">${forHtml(line)}</p>`,
    ),
    ...(take === null
      ? []
      : [
          `<p style="font-family:sans-serif;font-size:15px"><a href="${forHtml(take)}">${TAKE_WORDS}</a></p>`,
        ]),
    `<p style="font-family:sans-serif;font-size:15px"><a href="${forHtml(link)}">${forHtml(link)}</a></p>`,
  ].join('\n');
}

/** Whether a text is a private key mails can be signed with (rsa-sha256, RFC 8301). */
function isSigningKey(text: string): boolean {
  try {
    return createPrivateKey(text).asymmetricKeyType === 'rsa';
  } catch {
    return false;
  }
}

/** The part behind the at of a sender. */
function domainOf(from: string): string {
  return /@([^\s@<>]+?)>?$/.exec(from)?.[1] ?? 'localhost';
}

/**
 * A mail as it is sent. All that is said about one trouble refers to one message that was never sent (RFC 5322 section
 * 3.6.4), so that readers show it together, whichever of it comes first.
 */
export function mailOf({ from, to }: MailSettings, message: Outgoing) {
  const domain = domainOf(from);
  const root = message.conversation?.replaceAll(/[^\w.-]/g, '-');
  const thread = root && `<conversation.${root}@${domain}>`;
  return {
    from,
    to: addressesOf(to),
    // What would break out of a header is taken out by the library; a test holds it.
    subject: message.title,
    text: [...allLines(message), '', message.link].join('\n'),
    html: asHtml(message),
    date: new Date(message.at),
    messageId: `<message.${message.id.replaceAll(/[^\w.-]/g, '-')}@${domain}>`,
    ...(thread && { references: thread, inReplyTo: thread }),
    // Nobody's holiday answer is wanted (RFC 3834).
    headers: { 'Auto-Submitted': 'auto-generated' },
  };
}

interface MailError extends Error {
  code?: string;
  responseCode?: number;
  response?: string;
}

const WHY: Record<string, string> = {
  EAUTH: 'The mail server refused the sign-in',
  ETLS: 'No encrypted connection',
  EDNS: 'The name of the mail server was not found',
  ETIMEDOUT: 'The mail server did not answer in time',
  ECONNECTION: 'No connection to the mail server',
  ESOCKET: 'No connection to the mail server',
  EENVELOPE: 'The mail server refused an address',
  EMESSAGE: 'The mail server refused the mail',
};

/** What a failure at the SMTP dialogue means (RFC 5321 section 4.2.1): 4yz may pass, 5yz will not. */
function answerOf(error: MailError, blanker: Blanker): Answer {
  const { code = '', responseCode, response } = error;
  const why = WHY[code] ?? 'The mail did not go';
  const said = blanker
    .text(response ?? error.message)
    .replace(/\s+/g, ' ')
    .trim();
  // A sign-in or an encryption that is refused is for a person to mend; what waits goes then.
  const lasting = code !== 'EAUTH' && code !== 'ETLS' && responseCode !== undefined && responseCode >= 500;
  return { ok: false, retry: !lasting, said: `${why}: ${said}`.slice(0, MOST_ANSWER) };
}

async function send(settings: MailSettings, message: Outgoing, signal: AbortSignal): Promise<Answer> {
  const { host, port, security, user, password, authority, servername = '' } = settings;
  const { dkimSelector: keySelector = '', dkimKey: privateKey = '' } = settings;
  const blanker = new Blanker([password]);
  const transport = createTransport({
    host,
    port,
    secure: security === 'tls',
    requireTLS: security === 'starttls',
    ignoreTLS: security === 'none',
    ...(user !== '' && { auth: { user, pass: password } }),
    tls: { ...(authority !== '' && { ca: authority }), ...(servername !== '' && { servername }) },
    connectionTimeout: CONNECT_MS,
    greetingTimeout: CONNECT_MS,
    socketTimeout: CONNECT_MS,
    ...(privateKey !== '' && { dkim: { domainName: domainOf(settings.from), keySelector, privateKey } }),
    disableFileAccess: true,
    disableUrlAccess: true,
  });
  const limit = limitTime(SEND_MS, signal);
  const over = new Promise<Answer>((resolve) =>
    limit.signal.addEventListener('abort', () => {
      transport.close();
      resolve({ ok: false, retry: true, said: `The mail was not taken within ${SEND_MS / 1000} s` });
    }),
  );
  try {
    const sent = transport
      .sendMail(mailOf(settings, message))
      .then(({ response, rejected }): Answer => {
        const left = rejected.map(String);
        const said = blanker.text(response).slice(0, MOST_ANSWER);
        return {
          ok: true,
          retry: false,
          said: left.length > 0 ? `${said}; not taken for ${left.join(', ')}` : said,
        };
      })
      .catch((error: unknown) => answerOf(error as MailError, blanker));
    return await Promise.race([sent, over]);
  } finally {
    limit.release();
    transport.close();
  }
}

export const mail: ChannelKind<MailSettings> = {
  id: 'mail',
  title: 'mail',
  help: 'A mailbox, by a mail server that takes mail from you (SMTP). All about one trouble comes in one thread.',
  schema: object({
    host: needed('the name of the mail server').meta({ description: 'The mail server that takes the mail.' }),
    port: port(587, 'Mostly 587 with STARTTLS, 465 with TLS from the start.'),
    security: string()
      .oneOf(['starttls', 'tls', 'none'] as const, 'Expected starttls, tls or none.')
      .default('starttls')
      .meta({ description: 'How the connection is encrypted.' }),
    user: string()
      .trim()
      .default('')
      .max(300)
      .meta({ description: 'The name for signing in, if asked for.' }),
    password: string()
      .default('')
      .max(500)
      .test(
        'open',
        'Expected no password without encryption: it would be readable on its way.',
        function open(value) {
          return !value || (this.parent as MailSettings).security !== 'none';
        },
      )
      .meta({ description: 'The password for signing in.' }),
    from: needed('the address it comes from')
      .matches(
        ADDRESS,
        ({ value }) => `Expected one address such as lantern@ternferry.test, got "${String(value)}".`,
      )
      .meta({ description: 'The sender, with a name before it or without.' }),
    to: needed('the address it goes to')
      .test(
        'addresses',
        ({ value }) =>
          `Expected up to ${MOST_READERS} addresses with commas between them, got "${String(value).slice(0, 120)}".`,
        (value) => {
          const all = addressesOf(value ?? '');
          return all.length >= 1 && all.length <= MOST_READERS && all.every((one) => ADDRESS.test(one));
        },
      )
      .meta({ description: 'Who gets it; several with commas between them.' }),
    dkimSelector: string()
      .trim()
      .default('')
      .max(100)
      .test(
        'selector',
        'Expected the selector of the key: letters, digits, dots and hyphens.',
        function selector(value) {
          const key = (this.parent as MailSettings).dkimKey ?? '';
          return value ? /^[a-z0-9]([a-z0-9.-]*[a-z0-9])?$/i.test(value) : key === '';
        },
      )
      .meta({
        description: 'Where the public key is found: SELECTOR._domainkey and the domain of the sender.',
      }),
    dkimKey: string()
      .default('')
      .max(20_000)
      .test(
        'key',
        'Expected an RSA private key in PEM, one that needs no password.',
        (value) => !value || isSigningKey(value),
      )
      .meta({
        description: 'The key mails are signed with (DKIM, RFC 6376); without it they are not signed.',
      }),
    servername: string()
      .trim()
      .default('')
      .max(300)
      .meta({ description: 'The name in the server’s certificate, where it is called otherwise here.' }),
    authority: string().default('').max(20_000).meta({
      description: 'The authority that signed the server’s certificate (PEM), where it is one of your own.',
    }),
  }) as unknown as ChannelKind<MailSettings>['schema'],
  fields: [
    f.text('host', 'Mail server', 'The one your mail program sends through.', {
      placeholder: 'mail.ternferry.test',
    }),
    f.number('port', 'Port', 'Mostly 587 with STARTTLS, 465 with TLS from the start.', {
      placeholder: '587',
    }),
    f.choice('security', 'Encryption', 'How the connection is kept private.', [
      ['starttls', 'STARTTLS'],
      ['tls', 'TLS from the start'],
      ['none', 'none'],
    ]),
    f.text('user', 'User', 'Only where the server asks for a sign-in.'),
    f.secret('password', 'Password', 'Kept secret and not shown again.'),
    f.text('from', 'From', 'The sender people see.', {
      placeholder: 'Calm Lantern <lantern@ternferry.test>',
    }),
    f.text('to', 'To', 'Several with commas between them.', { placeholder: 'office@ternferry.test' }),
    f.text('dkimSelector', 'Selector', 'The public key is at SELECTOR._domainkey of the sender’s domain.', {
      placeholder: 'lantern',
      extra: 'Signing (DKIM)',
    }),
    f.secretArea('dkimKey', 'Private key', 'RSA, as PEM. Kept secret and not shown again.', {
      extra: 'Signing (DKIM)',
    }),
  ],
  shown: ({ to, host }) => `${addressesOf(to).join(', ')}, by ${host}`,
  send,
};
