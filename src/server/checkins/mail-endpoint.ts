import { SMTPServer, type SMTPServerError, type SMTPServerSession } from 'smtp-server';
import { blankSecrets } from '@/core/text/blank-secrets';
import type { MailEndpointPort, MailEndpointState, SeenMail } from '@/cases/frame/world';
import { readBounce, type Bounce } from '@/core/followers/bounce';
import { maySend, readMail, type MailEndpointSettings } from '@/core/reports/mail-words';
import { OutputKeeper } from '@/core/reports/output';
import type { CheckinEndpoint } from '@/store/watches/checkin-endpoints';
import type { ReportIntake } from './report-intake';
import type { MailReader } from './mail-reader';

const MOST_CONNECTIONS = 64;
const MOST_PER_CLIENT = 8;
const MOST_RECIPIENTS = 20;
const SILENCE_MS = 60_000;
const CLOSE_MS = 2_000;
const MOST_SEEN = 30;
const LONGEST_SEEN = 200;

export interface MailEndpointOptions {
  intake: ReportIntake;
  reader: MailReader;
  /** Where it listens; the port is one of the settings. */
  host: string;
  now: () => number;
  onSeen: () => void;
  bounces: BounceDesk;
}

/** Those letters come back from. */
export interface BounceDesk {
  /** Of whom something comes back to an address, by its part before the at; null where that is none of ours. */
  find: (local: string) => Promise<number | null>;
  note: (followerId: number, bounce: Bounce) => Promise<void>;
}

type Recipient = { door: CheckinEndpoint; key: string } | { bounced: number; key: string };

function refusal(code: number, text: string): SMTPServerError {
  return Object.assign(new Error(text), { responseCode: code });
}

/**
 * Takes the mails of jobs in by SMTP (RFC 5321), each check-in at an address of its own. It takes mail for nobody else
 * and sends none. A mail is answered with 250 only after the commit of its reports.
 */
export class MailEndpoint implements MailEndpointPort {
  problem: string | null = null;
  private readonly seen: SeenMail[] = [];
  private server: SMTPServer | null = null;
  private settings: MailEndpointSettings | null = null;
  /** Whom the mail under way is for, by the session. */
  private readonly recipients = new WeakMap<SMTPServerSession, Recipient[]>();

  constructor(private readonly options: MailEndpointOptions) {}

  state(): MailEndpointState {
    const { problem, seen } = this;
    return { domain: this.settings?.domain ?? null, problem, seen };
  }

  async change(settings: MailEndpointSettings): Promise<void> {
    const before = this.settings;
    await this.shut();
    if (settings.open) {
      try {
        await this.openWith(settings);
      } catch (error) {
        if (before) await this.openFirst(before);
        throw error;
      }
    }
    this.problem = null;
  }

  /** Opens it at the start; where it cannot be, the rest of the product starts all the same. */
  async openFirst(settings: MailEndpointSettings): Promise<void> {
    if (!settings.open) return;
    await this.openWith(settings).catch((error: Error) => {
      this.problem = error.message;
    });
  }

  private async openWith(settings: MailEndpointSettings): Promise<void> {
    this.server = await this.listen(settings);
    this.settings = settings;
  }

  async shut(): Promise<void> {
    const { server } = this;
    this.server = null;
    this.settings = null;
    if (server) await new Promise<void>((resolve) => server.close(() => resolve()));
  }

  private listen(settings: MailEndpointSettings): Promise<SMTPServer> {
    const { port, domain, largestKb } = settings;
    const perClient = new Map<string, number>();
    const server = new SMTPServer({
      name: domain,
      banner: 'reports of jobs only',
      disabledCommands: ['AUTH', 'STARTTLS'],
      authOptional: true,
      disableReverseLookup: true,
      size: largestKb * 1000,
      maxClients: MOST_CONNECTIONS,
      socketTimeout: SILENCE_MS,
      closeTimeout: CLOSE_MS,
      logger: false,
      // With it, some mail servers end their side right behind a mail and would not get the answer to it.
      hidePIPELINING: true,
      onConnect: ({ remoteAddress }, callback) => {
        const open = (perClient.get(remoteAddress) ?? 0) + 1;
        perClient.set(remoteAddress, open);
        callback(open > MOST_PER_CLIENT ? refusal(421, 'Too many connections from there.') : null);
      },
      onClose: ({ remoteAddress }) => {
        const open = (perClient.get(remoteAddress) ?? 1) - 1;
        if (open === 0) perClient.delete(remoteAddress);
        else perClient.set(remoteAddress, open);
      },
      onMailFrom: (_, session, callback) => {
        this.recipients.set(session, []);
        callback();
      },
      onRcptTo: ({ address }, session, callback) => {
        this.recipient(address, session, settings).then(() => callback(), callback);
      },
      onData: (stream, session, callback) => {
        const chunks: Buffer[] = [];
        stream.on('data', (chunk: Buffer) => {
          // What is too large is read to its end, so that the sender gets to see the answer, but not kept.
          if (!stream.sizeExceeded) chunks.push(chunk);
        });
        stream.on('error', callback);
        stream.on('end', () => {
          const raw = stream.sizeExceeded ? null : Buffer.concat(chunks);
          this.take(raw, session, settings).then((said) => callback(null, said), callback);
        });
      },
    });
    // Broken connections; whoever sent says so on the other side.
    server.on('error', () => undefined);
    return new Promise((resolve, reject) => {
      const failed = (error: NodeJS.ErrnoException) => reject(new Error(portProblem(error, port)));
      server.server.once('error', failed);
      server.listen(port, this.options.host, () => {
        server.server.off('error', failed);
        resolve(server);
      });
    });
  }

  private async recipient(
    address: string,
    session: SMTPServerSession,
    settings: MailEndpointSettings,
  ): Promise<void> {
    const { intake } = this.options;
    const refuse = async (code: number, text: string) => {
      this.note(session, { subject: null, taken: [], refused: text });
      await intake.slowMistakes(session.remoteAddress);
      return refusal(code, text);
    };
    const at = address.lastIndexOf('@');
    if (address.slice(at + 1).toLowerCase() !== settings.domain.toLowerCase()) {
      throw await refuse(550, `5.7.1 Nothing is passed on: this takes mail for ${settings.domain} only.`);
    }
    const key = address.slice(0, at).toLowerCase();
    const others = this.recipients.get(session) ?? [];
    const bounced = key.startsWith('back-') ? await this.options.bounces.find(key) : null;
    if (bounced !== null) {
      this.recipients.set(session, [...others, { bounced, key }].slice(0, MOST_RECIPIENTS));
      return;
    }
    const door = await intake.doorOf(key, session.remoteAddress);
    if (!door) throw await refuse(550, '5.1.1 There is no check-in at this address.');
    const { mailFrom } = session.envelope;
    const sender = mailFrom ? mailFrom.address : '';
    if (!maySend(door.mail, sender)) {
      throw await refuse(550, `5.7.1 This check-in takes no mail from ${sender || 'an empty sender'}.`);
    }
    if (others.length >= MOST_RECIPIENTS) throw refusal(452, '4.5.3 Too many recipients at once.');
    if (!others.some((other) => other.key === key)) others.push({ door, key });
    this.recipients.set(session, others);
  }

  /** Keeps what a mail reports, for each it is for; `null` stands for a mail that was too large. */
  private async take(
    raw: Buffer | null,
    session: SMTPServerSession,
    { largestKb }: MailEndpointSettings,
  ): Promise<string> {
    const { intake, reader } = this.options;
    const refuse = (code: number, text: string) => {
      this.note(session, { subject: null, taken: [], refused: text });
      return refusal(code, text);
    };
    if (raw === null) throw refuse(552, `5.3.4 Expected at most ${largestKb} kB.`);
    const mail = await reader.read(raw);
    if ('problem' in mail) throw refuse(554, `5.6.0 Expected a mail that can be read: ${mail.problem}.`);
    const kept = new OutputKeeper();
    kept.add(Buffer.from(mail.text.trim()));
    const text = kept.asText();
    const body = text === null ? '' : blankSecrets(text);
    const subject = blankSecrets(mail.subject.slice(0, LONGEST_SEEN));
    const output = [subject, body].filter(Boolean).join('\n\n') || null;
    const client = session.remoteAddress;
    const from = senderOf(session);
    const recipients = this.recipients.get(session) ?? [];
    const doors = recipients.flatMap((recipient) => ('door' in recipient ? [recipient.door] : []));
    const bounced = recipients.flatMap((recipient) => ('bounced' in recipient ? [recipient.bounced] : []));
    const bounce = mail.report === null ? null : readBounce(mail.report);
    const agent = `mail from ${from || 'an empty sender'}`.slice(0, LONGEST_SEEN);
    const taken = doors.map((door) => ({
      watchId: door.watchId,
      ...readMail(door.mail, { subject: mail.subject, body }),
    }));
    const keeping = doors.map((door, i) => {
      const { kind } = taken[i]!;
      const report = { kind, code: null, run: null, method: 'MAIL', address: client, agent, output };
      return intake.keep(door, report);
    });
    try {
      await Promise.all(keeping);
      // One mail tells of one letter, whomever else it is addressed to.
      if (bounce && bounced[0] !== undefined) await this.options.bounces.note(bounced[0], bounce);
    } catch {
      throw refuse(451, '4.3.0 The report could not be kept. Try again.');
    }
    for (const door of doors) await intake.slowReports(client, door);
    if (doors.length > 0) this.note(session, { subject, taken, refused: null });
    return '2.0.0 kept';
  }

  private note(session: SMTPServerSession, rest: Omit<SeenMail, 'at' | 'from' | 'client'>): void {
    const from = senderOf(session).slice(0, LONGEST_SEEN);
    this.seen.unshift({ at: this.options.now(), from, client: session.remoteAddress, ...rest });
    this.seen.splice(MOST_SEEN);
    this.options.onSeen();
  }
}

function senderOf(session: SMTPServerSession): string {
  return session.envelope.mailFrom ? session.envelope.mailFrom.address : '';
}

function portProblem(error: NodeJS.ErrnoException, port: number): string {
  if (error.code === 'EADDRINUSE') {
    return `Expected a free port; something listens at ${port} already.`;
  }
  if (error.code === 'EACCES') {
    return `Expected a port this account may open; ${port} needs more rights. Take one from 1024 on.`;
  }
  return `Expected a port to listen at; ${port} cannot be opened: ${error.message}.`;
}
