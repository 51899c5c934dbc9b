import { lookAtPort } from '@/probes/frame/look-at-port';
import * as f from '@/core/settings/fields';
import { object } from 'yup';
import { formatDuration } from '@/core/time/duration';
import { Conversation, openConnection, secureConnection } from '@/probes/transport/connection';
import { hostFields, signInFields } from '@/probes/fields/host-fields';
import { checkedBy, type LookContext, type ProbeKind } from '@/probes/frame/kind';
import { type Run } from '@/probes/frame/run';
import * as s from '@/probes/fields/schema';
import {
  askForTls,
  imapCommand,
  imapGreeting,
  smtpCommand,
  smtpGreeting,
  smtpReply,
} from '@/probes/transport/starttls';
import { tlsFields, tlsShape, tlsWish, type TlsSettings } from '@/probes/fields/tls-wish';

interface MailSettings extends TlsSettings {
  service: 'smtp' | 'imap';
  host: string;
  port: number;
  security: 'none' | 'starttls' | 'tls';
  greeting: string;
  user: string;
  password: string;
}

const schema = object({
  service: s.oneOf(
    'What it speaks: SMTP takes mail in, IMAP hands it out.',
    ['smtp', 'imap'] as const,
    'smtp',
  ),
  host: s.host(),
  port: s.port(25),
  security: s.oneOf('How TLS begins.', ['none', 'starttls', 'tls'] as const, 'starttls'),
  greeting: s.text('Text its greeting must hold.', 200),
  user: s.text('The account to sign in with; empty for none.', 200),
  password: s.secret('Its password.'),
  ...tlsShape(),
});

function checkGreeting(run: Run, wanted: string, got: string): void {
  run.fact('greeting', got);
  if (wanted === '' || got.includes(wanted)) return;
  run.fail('answer.differs', { port: run.target.port, got: got.slice(0, 120), expected: `“${wanted}”` });
}

function base64(text: string): string {
  return Buffer.from(text).toString('base64');
}

/** Signs in by PLAIN (RFC 4616), else by LOGIN, which older servers offer alone. */
async function smtpSignIn(run: Run, talk: Conversation, settings: MailSettings, offers: readonly string[]) {
  const { user, password } = settings;
  const offered = offers.map((line) => /^250[ -]AUTH[ =](.*)$/i.exec(line)?.[1] ?? '').join(' ');
  const ways = offered.toUpperCase().split(/\s+/).filter(Boolean);
  // PLAIN: authorization identity (none), account and password, kept apart by NUL.
  const lines = ways.includes('PLAIN')
    ? [`AUTH PLAIN ${base64(`\0${user}\0${password}`)}`]
    : ways.includes('LOGIN')
      ? ['AUTH LOGIN', base64(user), base64(password)]
      : [];
  if (lines.length === 0) {
    const said =
      ways.length === 0 ? 'none is offered on this connection' : `only ${ways.join(', ')} is offered`;
    run.fail('sign-in.refused', { said });
  }
  for (const [i, line] of lines.entries()) {
    talk.send(`${line}\r\n`);
    const reply = await smtpReply(talk);
    const wanted = i === lines.length - 1 ? 235 : 334;
    if (reply.code !== wanted) run.fail('sign-in.refused', { said: reply.lines.at(-1) ?? '' });
  }
}

async function smtp(run: Run, talk: Conversation, settings: MailSettings, greeted: boolean): Promise<void> {
  if (!greeted) checkGreeting(run, settings.greeting, await smtpGreeting(run, talk));
  const hello = await smtpCommand(run, talk, 'EHLO calm-lantern.invalid', 'EHLO');
  run.fact(
    'offers',
    hello.lines
      .slice(1)
      .map((line) => line.slice(4))
      .join(', '),
  );
  if (settings.user !== '') await smtpSignIn(run, talk, settings, hello.lines);
  await smtpCommand(run, talk, 'QUIT').catch(() => undefined);
}

/** An IMAP quoted string (RFC 9051, 4.3). */
function quoted(text: string): string {
  return `"${text.replace(/[\\"]/g, '\\$&').replace(/[\r\n\0]/g, '')}"`;
}

async function imap(run: Run, talk: Conversation, settings: MailSettings, greeted: boolean): Promise<void> {
  if (!greeted) checkGreeting(run, settings.greeting, await imapGreeting(run, talk));
  const can = await imapCommand(talk, 'b1', 'CAPABILITY');
  if (!can.ok) run.fail('command.refused', { command: 'CAPABILITY', said: can.said });
  run.fact('offers', can.untagged.join(' ').replace(/^\* CAPABILITY /i, ''));
  if (settings.user !== '') {
    const answer = await imapCommand(
      talk,
      'b2',
      `LOGIN ${quoted(settings.user)} ${quoted(settings.password)}`,
    );
    if (!answer.ok) run.fail('sign-in.refused', { said: answer.said });
  }
  await imapCommand(talk, 'b3', 'LOGOUT').catch(() => undefined);
}

function look(given: MailSettings, context: LookContext) {
  const settings = { ...mail.defaults, ...given };
  const { host, port, security, service } = settings;
  return lookAtPort(
    context,
    settings,
    { tls: security !== 'none', rungs: [['reply', settings.user ? 'sign-in' : 'greeting']] },
    async (run) => {
      let socket = await openConnection(run, { host, port });
      const wish = tlsWish(settings, host);
      if (security === 'tls') socket = await secureConnection(run, socket, wish);
      let talk = new Conversation(run, socket);
      if (security === 'starttls') {
        const greeting = await askForTls(run, talk, service);
        checkGreeting(run, settings.greeting, greeting);
        socket = await secureConnection(run, talk.release(), wish);
        talk = new Conversation(run, socket);
      }
      await (service === 'smtp' ? smtp : imap)(run, talk, settings, security === 'starttls');
      run.lap('firstByte', 'reply');
    },
  );
}

export const mail: ProbeKind<MailSettings> = {
  id: 'mail',
  title: 'mail server',
  help: 'Greets an SMTP or IMAP server, goes over to TLS, and signs in where you like.',
  ...checkedBy<MailSettings>(schema),
  fields: [
    f.choice('service', 'What it speaks', 'SMTP takes mail in, IMAP hands it out.', [
      ['smtp', 'SMTP'],
      ['imap', 'IMAP'],
    ]),
    ...hostFields('mail.ternferry.test', '25, 465, 587, 143 or 993'),
    f.choice(
      'security',
      'TLS',
      'Ports 465 and 993 speak it from the first byte, 25, 587 and 143 go over to it.',
      [
        ['starttls', 'goes over to it (STARTTLS)'],
        ['tls', 'from the first byte'],
        ['none', 'none'],
      ],
    ),
    ...signInFields('Sign-in and greeting'),
    f.text('greeting', 'Its greeting must hold', 'Leave empty if any greeting will do.', {
      placeholder: 'mail.ternferry.test',
      extra: 'Sign-in and greeting',
    }),
    ...tlsFields({ field: 'security', is: ['starttls', 'tls'] }),
  ],
  hostOf: (settings) => settings.host,
  targetOf: (settings) => `${settings.host} port ${settings.port}`,
  nameOf: (settings) => `${settings.host} (${settings.service.toUpperCase()})`,
  walkTo: ({ host, port, security, servername }) => ({
    host,
    port,
    tls: security === 'tls',
    servername: servername || host,
  }),
  verdictSentence: ({ service, security, user, skipVerify }, timeoutMs) =>
    `Fails when no ${service.toUpperCase()} server greets within ${formatDuration(timeoutMs)}` +
    `${security === 'none' || skipVerify ? '' : ', when its certificate is not valid'}${user ? ', or when it refuses the sign-in' : ''}.`,
  look,
};
