import type { AddressInfo } from 'node:net';
import { simpleParser } from 'mailparser';
import { SMTPServer } from 'smtp-server';
import type { RoomMode } from '@/standins/rooms/practice-room';
import { ServedRoom } from './served-room';

const MOST_BYTES = 200_000;

/** What it answers while it is broken (RFC 5321 section 4.2.3). */
const ANSWERS: Record<Exclude<RoomMode, 'fine'>, [code: number, text: string]> = {
  busy: [451, 'the office is closed for the moment'],
  refusing: [550, 'nobody of that name is here'],
  'too fast': [450, 'slow down'],
};

/** The desk's mailbox: takes any mail without a sign-in, and shows its subject and text. */
export class MailRoom extends ServedRoom {
  private readonly server: SMTPServer;
  private port = 0;

  constructor() {
    super('letters', 'Desk mailbox', 'mail (SMTP)');
    this.server = new SMTPServer({
      name: 'mail.ternferry.test',
      authOptional: true,
      disabledCommands: ['AUTH', 'STARTTLS'],
      size: MOST_BYTES,
      disableReverseLookup: true,
      logger: false,
      onRcptTo: (_, __, next) => {
        if (this.mode === 'fine') return next();
        const [responseCode, text] = ANSWERS[this.mode];
        next(Object.assign(new Error(text), { responseCode }));
      },
      onData: (stream, _, next) => {
        simpleParser(stream).then(
          ({ subject = '', text = '' }) => {
            this.keep(`${subject}\n${text.trim()}`);
            next();
          },
          (error: Error) => next(error),
        );
      },
    });
    this.server.on('error', () => undefined);
  }

  get how(): string {
    return `Server 127.0.0.1, port ${this.port}, without TLS and sign-in.`;
  }

  start(port: number): Promise<void> {
    return new Promise((resolve, reject) => {
      this.server.server.once('error', reject);
      this.server.listen(port, '127.0.0.1', () => {
        this.port = (this.server.server.address() as AddressInfo).port;
        resolve();
      });
    });
  }

  stop(): Promise<void> {
    return new Promise((resolve) => this.server.close(() => resolve()));
  }
}
