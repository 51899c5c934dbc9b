import { createPrivateKey } from 'node:crypto';
import { string } from 'yup';
import { forHtml } from '@/core/messages/safe-text';
import * as f from '@/core/settings/fields';
import type { Language } from '@/core/languages/language';
import { speechOf } from '@/core/languages/speech';
import { NO_HOUSE, type House } from '@/channels/frame/house';
import { authority, authorityField, needed, port, settingsOf } from '@/channels/frame/fields';
import { allLines, takeWord } from '@/channels/frame/all-lines';
import type { Answer, ChannelKind, Outgoing } from '@/channels/frame/kind';
import { domainOf, MOST_ANSWER, post, type SmtpSettings } from '@/channels/transport/smtp';

export interface MailSettings extends SmtpSettings {
  to: string;
}

const MOST_READERS = 20;
/** One address, with a name before it or without (RFC 5322, what people write of it). */
const ADDRESS = /^(?:[^<>",\r\n]{0,80}<)?[^\s@<>",]{1,64}@[^\s@<>",]{1,200}>?$/;

function addressesOf(text: string): string[] {
  return text
    .split(/[,;\n]/)
    .map((one) => one.trim())
    .filter(Boolean);
}

function asHtml({ title, lines, link, take, language }: Outgoing): string {
  return [
    `<p style="font-family:Georgia,serif;font-size:20px;margin:0 0 12px">${forHtml(title)}</p>`,
    ...lines.map(
      (line) => `<p style="font-family:sans-serif;font-size:15px;margin:0 0 8px">${forHtml(line)}</p>`,
    ),
    ...(take === null
      ? []
      : [
          `<p style="font-family:sans-serif;font-size:15px"><a href="${forHtml(take)}">${takeWord(language)}</a></p>`,
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

/**
 * A mail as it is sent. All that is said about one trouble refers to one message that was never sent (RFC 5322 section
 * 3.6.4), so that readers show it together, whichever of it comes first; what likely has the same cause is tied to it.
 */
export function mailOf({ from, to }: MailSettings, message: Outgoing) {
  const domain = domainOf(from);
  const idOf = (conversation: string) =>
    `<conversation.${conversation.replaceAll(/[^\w.-]/g, '-')}@${domain}>`;
  const threads = [message.follows, message.conversation].filter((one) => one !== null).map(idOf);
  return {
    from,
    to: addressesOf(to),
    // What would break out of a header is taken out by the library; a test holds it.
    subject: message.title,
    text: [...allLines(message), '', message.link].join('\n'),
    html: asHtml(message),
    date: new Date(message.at),
    messageId: `<message.${message.id.replaceAll(/[^\w.-]/g, '-')}@${domain}>`,
    ...(threads.length > 0 && { references: threads, inReplyTo: threads.at(-1) }),
    // Nobody's holiday answer is wanted (RFC 3834).
    headers: { 'Auto-Submitted': 'auto-generated' },
  };
}

/** The bare address of one that may have a name before it. */
function bareOf(address: string): string {
  return /<([^<>]+)>$/.exec(address)?.[1] ?? address;
}

/** Asks an address whether it wants messages; answers what came of it, or null where it was asked not long ago. */
async function askFirst(
  settings: MailSettings,
  address: string,
  language: Language,
  { consent }: House,
  signal: AbortSignal,
): Promise<Answer | null> {
  const link = await consent.ask(bareOf(address));
  if (link === null) return null;
  const { say } = speechOf(language);
  const text = [say('consent.line', { address: bareOf(address) }), '', link, '', say('consent.else')].join(
    '\n',
  );
  const question = {
    from: settings.from,
    to: [address],
    subject: say('consent.title'),
    text,
    headers: { 'Auto-Submitted': 'auto-generated' },
  };
  const answer = await post(settings, question, signal);
  if (!answer.ok) await consent.forget(bareOf(address));
  return answer;
}

/** Sends to those who want it; whoever did not say so yet is asked, and sent nothing else. */
async function send(
  settings: MailSettings,
  message: Outgoing,
  signal: AbortSignal,
  house = NO_HOUSE,
): Promise<Answer> {
  const wanted: string[] = [];
  const unsaid: string[] = [];
  for (const address of addressesOf(settings.to))
    ((await house.consent.isGiven(bareOf(address))) ? wanted : unsaid).push(address);
  for (const address of unsaid) {
    const asked = await askFirst(settings, address, message.language, house, signal);
    if (asked && !asked.ok && wanted.length === 0) return asked;
  }
  const waits = `${unsaid.map(bareOf).join(', ')} was asked by mail, and is sent nothing else before saying yes`;
  if (wanted.length === 0)
    return { ok: false, retry: true, said: `Not sent yet: ${waits}`.slice(0, MOST_ANSWER) };
  const answer = await post(settings, mailOf({ ...settings, to: wanted.join(', ') }, message), signal);
  return answer.ok && unsaid.length > 0
    ? { ...answer, said: `${answer.said}; ${waits}`.slice(0, MOST_ANSWER) }
    : answer;
}

export const mail: ChannelKind<MailSettings> = {
  id: 'mail',
  title: 'mail',
  help: 'A mailbox, by a mail server that takes mail from you (SMTP). All about one trouble comes in one thread.',
  schema: settingsOf<MailSettings>({
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
    authority: authority(),
  }),
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
    f.text(
      'to',
      'To',
      'Several with commas between them. Whoever is no account here is asked first, by a mail with a link.',
      { placeholder: 'office@ternferry.test' },
    ),
    f.text('dkimSelector', 'Selector', 'The public key is at SELECTOR._domainkey of the sender’s domain.', {
      placeholder: 'lantern',
      extra: 'Signing (DKIM)',
    }),
    f.secretArea('dkimKey', 'Private key', 'RSA, as PEM. Kept secret and not shown again.', {
      extra: 'Signing (DKIM)',
    }),
    authorityField(),
  ],
  shown: ({ to, host }) => `${addressesOf(to).join(', ')}, by ${host}`,
  send,
};

/** The mailboxes a channel's settings name, without the names before them. */
export function mailboxesOf({ to }: Pick<MailSettings, 'to'>): string[] {
  return addressesOf(to).map(bareOf);
}
