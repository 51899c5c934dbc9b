import { createTransport } from 'nodemailer';
import type Mail from 'nodemailer/lib/mailer';
import { Blanker } from '@/core/text/secret-forms';
import { trusting } from '@/outside/authority';
import { limitTime } from '@/outside/limit';
import type { Answer } from '@/channels/frame/kind';

/** How a mail server is reached, and what mails are signed with. */
export interface SmtpSettings {
  host: string;
  port: number;
  security: 'starttls' | 'tls' | 'none';
  user: string;
  password: string;
  from: string;
  /** The name in the server's certificate, where it is called otherwise here. */
  servername?: string;
  authority: string;
  /** Under which name of the sender's domain the public key is found (RFC 6376), and the private key; empty for neither. */
  dkimSelector?: string;
  dkimKey?: string;
}

/** What a signature covers, as far as it is there: also how a mail is ended with one click (RFC 8058, section 4). */
const SIGNED = [
  ...['From', 'Sender', 'Reply-To', 'Subject', 'Date', 'Message-ID', 'To', 'Cc', 'MIME-Version'],
  ...['Content-Type', 'Content-Transfer-Encoding', 'In-Reply-To', 'References', 'Auto-Submitted'],
  ...['List-Id', 'List-Unsubscribe', 'List-Unsubscribe-Post'],
].join(':');

const CONNECT_MS = 15_000;
const SEND_MS = 45_000;
export const MOST_ANSWER = 300;

/** The part behind the at of a sender. */
export function domainOf(from: string): string {
  return /@([^\s@<>]+?)>?$/.exec(from)?.[1] ?? 'localhost';
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

/** A line to the mail server as the settings say. */
function transportOf(settings: SmtpSettings) {
  const { host, port, security, user, password, authority, servername = '' } = settings;
  const { dkimSelector: keySelector = '', dkimKey: privateKey = '' } = settings;
  return createTransport({
    host,
    port,
    secure: security === 'tls',
    requireTLS: security === 'starttls',
    ignoreTLS: security === 'none',
    ...(user !== '' && { auth: { user, pass: password } }),
    tls: { ...trusting(authority), ...(servername !== '' && { servername }) },
    connectionTimeout: CONNECT_MS,
    greetingTimeout: CONNECT_MS,
    socketTimeout: CONNECT_MS,
    ...(privateKey !== '' && {
      dkim: { domainName: domainOf(settings.from), keySelector, privateKey, headerFieldNames: SIGNED },
    }),
    disableFileAccess: true,
    disableUrlAccess: true,
  });
}

/** Hands one mail over, in a bounded time. */
export async function post(
  settings: SmtpSettings,
  mailed: Mail.Options,
  signal: AbortSignal,
): Promise<Answer> {
  const blanker = new Blanker([settings.password]);
  const transport = transportOf(settings);
  const limit = limitTime(SEND_MS, signal);
  const over = new Promise<Answer>((resolve) =>
    limit.signal.addEventListener('abort', () => {
      transport.close();
      resolve({ ok: false, retry: true, said: `The mail was not taken within ${SEND_MS / 1000} s` });
    }),
  );
  try {
    const sent = transport
      .sendMail(mailed)
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
