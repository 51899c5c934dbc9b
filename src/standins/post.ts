import { createServer, type Socket } from 'node:net';
import { TLSSocket, createSecureContext } from 'node:tls';
import type { KeyAndCertificate } from './certificates';
import { listen, trackSockets } from './listener';
import { PracticeService, type Opened } from './service';

export interface PostOptions {
  id: string;
  title: string;
  port: number;
  speaks: 'smtp' | 'imap';
  secure: { fine: KeyAndCertificate; expired: KeyAndCertificate };
  user: string;
  password: string;
}

/** The office mail: an SMTP or an IMAP server with STARTTLS and sign-in. */
export class PracticePost extends PracticeService {
  readonly modes = ['fine', 'stopped', 'busy', 'refuses sign-in', 'no TLS', 'expired certificate'] as const;

  constructor(private readonly options: PostOptions) {
    super(options.id, options.title, options.port);
  }

  protected async open(port: number): Promise<Opened> {
    const server = createServer((socket) => {
      if (this.mode === 'busy') {
        socket.end(
          this.options.speaks === 'smtp' ? '421 too busy, come back later\r\n' : '* BYE too busy\r\n',
        );
        return;
      }
      socket.write(
        this.options.speaks === 'smtp'
          ? '220 mail.ternferry.test ready\r\n'
          : '* OK mail.ternferry.test ready\r\n',
      );
      this.talk(socket);
    });
    const close = trackSockets(server);
    return { port: await listen(server, port), close };
  }

  private talk(socket: Socket): void {
    let rest = '';
    socket.on('error', () => socket.destroy());
    const onData = (chunk: Buffer) => {
      rest += chunk.toString();
      for (let end = rest.indexOf('\r\n'); end >= 0; end = rest.indexOf('\r\n')) {
        const line = rest.slice(0, end);
        rest = rest.slice(end + 2);
        const answer = this.options.speaks === 'smtp' ? this.smtp(line) : this.imap(line);
        socket.write(answer);
        if (/STARTTLS$/i.test(line) && this.mode !== 'no TLS') {
          socket.off('data', onData);
          this.goSecure(socket);
          return;
        }
        if (/^(QUIT|\S+ LOGOUT)$/i.test(line)) socket.end();
      }
    };
    socket.on('data', onData);
  }

  private goSecure(socket: Socket): void {
    const pair = this.mode === 'expired certificate' ? this.options.secure.expired : this.options.secure.fine;
    this.talk(new TLSSocket(socket, { isServer: true, secureContext: createSecureContext(pair) }));
  }

  private maySignIn(user: string, password: string): boolean {
    const { options, mode } = this;
    return mode !== 'refuses sign-in' && user === options.user && password === options.password;
  }

  private smtp(line: string): string {
    if (/^EHLO/i.test(line)) {
      const offers = [
        'mail.ternferry.test',
        'PIPELINING',
        ...(this.mode === 'no TLS' ? [] : ['STARTTLS']),
        'AUTH PLAIN',
      ];
      return offers.map((offer, i) => `250${i === offers.length - 1 ? ' ' : '-'}${offer}\r\n`).join('');
    }
    if (/^STARTTLS$/i.test(line)) return this.mode === 'no TLS' ? '502 not here\r\n' : '220 go ahead\r\n';
    const plain = /^AUTH PLAIN (\S+)$/i.exec(line)?.[1];
    if (plain) {
      const [, user = '', password = ''] = Buffer.from(plain, 'base64').toString().split('\0');
      return this.maySignIn(user, password) ? '235 welcome\r\n' : '535 wrong name or password\r\n';
    }
    return /^QUIT$/i.test(line) ? '221 bye\r\n' : '502 what?\r\n';
  }

  private imap(line: string): string {
    const [tag = '*', command = ''] = line.split(' ');
    switch (command.toUpperCase()) {
      case 'CAPABILITY':
        return `* CAPABILITY IMAP4rev1 STARTTLS\r\n${tag} OK done\r\n`;
      case 'STARTTLS':
        return this.mode === 'no TLS' ? `${tag} BAD not here\r\n` : `${tag} OK go ahead\r\n`;
      case 'LOGIN': {
        const [user = '', password = ''] = [...line.matchAll(/"([^"]*)"/g)].map((match) => match[1]!);
        return this.maySignIn(user, password)
          ? `${tag} OK welcome\r\n`
          : `${tag} NO wrong name or password\r\n`;
      }
      case 'LOGOUT':
        return `* BYE\r\n${tag} OK bye\r\n`;
      default:
        return `${tag} BAD what?\r\n`;
    }
  }
}
