import { connect as netConnect, isIP, type Socket } from 'node:net';
import { connect as tlsConnect } from 'node:tls';
import { trusting } from '@/outside/authority';

/** Where a conversation over IRC is held, and as whom. */
export interface IrcPlace {
  host: string;
  port: number;
  tls: boolean;
  authority: string;
  nick: string;
  /** The password of the server; empty where it asks for none. */
  password: string;
  /** An account signed in to by SASL PLAIN (IRCv3); empty for none. */
  account: string;
  accountPassword: string;
}

/** One line of the protocol, taken apart (RFC 2812 section 2.3.1). */
export interface IrcMessage {
  from: string;
  command: string;
  params: string[];
}

/** A line with its tags (IRCv3) may be so long; whoever sends longer ones speaks something else. */
const MOST_LINE_BYTES = 8_191 + 512;
const CONNECT_MS = 15_000;
const ANSWER_MS = 15_000;
/** So many lines may go at once, and then one in so long (RFC 1459 section 8.10). */
const BURST_LINES = 5;
const LINE_EVERY_MS = 2_000;
/** So long without a line from the server it is asked whether it is there. */
const QUIET_MS = 60_000;
const LEAVE_MS = 1_000;
const SASL_CHUNK = 400;

export function parseIrc(line: string): IrcMessage | null {
  const match = /^(?:@\S+ +)?(?::(\S+) +)?([A-Za-z]+|\d{3})((?: +[^\s:]\S*)*)(?: +:(.*))?\s*$/.exec(line);
  if (!match) return null;
  const [, from = '', command = '', middle = '', last] = match;
  const params = middle.trim() === '' ? [] : middle.trim().split(/ +/);
  return {
    from,
    command: command.toUpperCase(),
    params: last === undefined ? params : [...params, last],
  };
}

/** What ends a conversation before it began, by the number the server gives (RFC 2812 section 5.2, IRCv3 SASL). */
const REFUSALS: Record<string, string> = {
  '432': 'The server does not take this name',
  '464': 'The server refused its password',
  '465': 'The server does not let us in',
  '902': 'The account cannot be used',
  '904': 'The account or its password was refused',
  '905': 'The account or its password was refused',
  '908': 'The server does not take an account and a password (SASL PLAIN)',
};

/** A connection to an IRC server: registers, answers its pings, and sends no faster than a server bears. */
export class IrcConnection {
  /** The name we go by there: another one where ours was taken. */
  nick: string;
  /** Hears every line but what keeps the connection alive. */
  onMessage: (message: IrcMessage) => void = () => undefined;
  onClose: (why: string) => void = () => undefined;
  private readonly socket: Socket;
  private rest = '';
  private why = 'the connection was closed';
  private closed = false;
  private budget = BURST_LINES;
  private budgetAt = performance.now();
  private readonly waiting = new Set<(message: IrcMessage) => boolean>();
  private readonly alive: NodeJS.Timeout;
  private heardAt = performance.now();

  private constructor(
    private readonly place: IrcPlace,
    private readonly random: () => number,
  ) {
    const { host, port, tls, authority } = place;
    this.nick = place.nick;
    this.socket = tls
      ? tlsConnect({
          host,
          port,
          ...trusting(authority),
          ...(!isIP(host) && { servername: host }),
        })
      : netConnect({ host, port });
    this.socket.setEncoding('utf8');
    this.socket.on('data', (text) => this.take(String(text)));
    this.socket.on('error', (error: NodeJS.ErrnoException) => (this.why = error.code ?? error.message));
    this.socket.once('close', () => this.end());
    this.alive = setInterval(() => this.askIfThere(), QUIET_MS / 2);
  }

  /** Connects and registers; throws an error with a sentence where that does not come about. */
  static async open(place: IrcPlace, random: () => number = Math.random): Promise<IrcConnection> {
    const connection = new IrcConnection(place, random);
    try {
      await connection.register();
      return connection;
    } catch (error) {
      await connection.close();
      throw error;
    }
  }

  private async register(): Promise<void> {
    const { tls, nick, password, account } = this.place;
    await this.until(
      new Promise<void>((resolve) => this.socket.once(tls ? 'secureConnect' : 'connect', resolve)),
      CONNECT_MS,
    );
    if (account !== '') this.write('CAP LS 302');
    if (password !== '') this.write(`PASS :${password}`);
    this.write(`NICK ${nick}`);
    this.write(`USER ${nick.replace(/[^\w-]/g, '') || 'lantern'} 0 * :Calm Lantern`);
    let offered = '';
    await this.answer((message) => {
      const { command, params } = message;
      if (command === '001') {
        this.nick = params[0] ?? this.nick;
        return true;
      }
      if (command === '433' || command === '437') {
        // The name is taken: another one, of nine characters (RFC 2812 section 1.2.1), and the registration goes on.
        this.nick = `${nick.slice(0, 5)}${Math.floor(1000 + this.random() * 9000)}`;
        this.write(`NICK ${this.nick}`);
      } else if (command === 'CAP' && account !== '') {
        offered += ` ${params.at(-1) ?? ''}`;
        if (params[1] === 'LS' && params[2] !== '*') {
          if (!/(?:^| )sasl(?:=| |$)/.test(offered)) throw new Error(REFUSALS['908']);
          this.write('CAP REQ :sasl');
        } else if (params[1] === 'ACK') this.write('AUTHENTICATE PLAIN');
        else if (params[1] === 'NAK') throw new Error(REFUSALS['908']);
      } else if (command === 'AUTHENTICATE') this.authenticate();
      else if (command === '903') this.write('CAP END');
      else if (REFUSALS[command]) throw new Error(`${REFUSALS[command]}: ${params.at(-1) ?? ''}`);
      else if (command === 'ERROR')
        throw new Error(`The server ended the connection: ${params.at(-1) ?? ''}`);
      return false;
    }, 'The server did not let us in');
  }

  /** SASL PLAIN (RFC 4616) in pieces of 400 characters; one that is full is followed by another, if an empty one. */
  private authenticate(): void {
    const { account, accountPassword } = this.place;
    const whole = Buffer.from(`${account}\0${account}\0${accountPassword}`).toString('base64');
    for (let at = 0; at <= whole.length; at += SASL_CHUNK) {
      this.write(`AUTHENTICATE ${whole.slice(at, at + SASL_CHUNK) || '+'}`);
    }
  }

  /** Resolves once `take` says so of a line that came; an error it throws is passed on. */
  answer(take: (message: IrcMessage) => boolean, what: string): Promise<void> {
    let done: ((message: IrcMessage) => boolean) | undefined;
    const heard = new Promise<void>((resolve, reject) => {
      done = (message) => {
        try {
          if (!take(message)) return false;
          resolve();
        } catch (error) {
          reject(error as Error);
        }
        return true;
      };
      this.waiting.add(done);
    });
    return this.until(heard, ANSWER_MS, what).finally(() => this.waiting.delete(done!));
  }

  /** Not longer than that, and not beyond the end of the connection. */
  private until(work: Promise<void>, ms: number, what = 'No connection'): Promise<void> {
    return new Promise((resolve, reject) => {
      const fail = (why: string) => reject(new Error(`${what}: ${why}`));
      const timer = setTimeout(() => fail(`no answer within ${ms / 1000} s`), ms);
      const onClose = () => fail(this.why);
      this.socket.once('close', onClose);
      const settle = (then: () => void) => {
        clearTimeout(timer);
        this.socket.off('close', onClose);
        then();
      };
      if (this.closed) settle(() => fail(this.why));
      work.then(
        () => settle(resolve),
        (error: unknown) => settle(() => reject(error as Error)),
      );
    });
  }

  private take(text: string): void {
    this.heardAt = performance.now();
    const lines = (this.rest + text).split('\n');
    this.rest = lines.pop()!;
    for (const line of lines) this.hear(line.replace(/\r$/, ''));
    if (this.rest.length > MOST_LINE_BYTES) {
      this.why = 'it sent a line that is too long for IRC';
      this.socket.destroy();
    }
  }

  private hear(line: string): void {
    const message = line.length > MOST_LINE_BYTES ? null : parseIrc(line);
    if (!message) return;
    if (message.command === 'PING') {
      this.write(`PONG :${message.params.at(-1) ?? ''}`);
      return;
    }
    if (message.command === 'ERROR') this.why = message.params.at(-1) ?? this.why;
    for (const take of [...this.waiting]) if (take(message)) this.waiting.delete(take);
    this.onMessage(message);
  }

  /** Writes one line; whatever would begin another one is taken out. */
  private write(line: string): void {
    if (!this.closed) this.socket.write(`${line.replace(/[\r\n\0]+/g, ' ')}\r\n`);
  }

  /** Sends a line when the server bears it; rejects where that is called off. */
  async send(line: string, signal?: AbortSignal): Promise<void> {
    const now = performance.now();
    this.budget = Math.min(BURST_LINES, this.budget + (now - this.budgetAt) / LINE_EVERY_MS);
    this.budgetAt = now;
    this.budget -= 1;
    if (this.budget < 0) await rest(-this.budget * LINE_EVERY_MS, signal);
    if (this.closed) throw new Error(`No connection: ${this.why}`);
    this.write(line);
  }

  /** Waits until the server has taken everything before: it answers in order. */
  async settle(): Promise<void> {
    const token = `lantern${Math.floor(this.random() * 1e9)}`;
    const heard = this.answer(
      ({ command, params }) => command === 'PONG' && params.at(-1) === token,
      'The server did not take it',
    );
    this.write(`PING :${token}`);
    await heard;
  }

  private askIfThere(): void {
    const quietMs = performance.now() - this.heardAt;
    if (quietMs > 2 * QUIET_MS) {
      this.why = `nothing came for ${Math.round(quietMs / 1000)} s`;
      this.socket.destroy();
    } else if (quietMs > QUIET_MS) this.write('PING :lantern');
  }

  private end(): void {
    if (this.closed) return;
    this.closed = true;
    clearInterval(this.alive);
    this.onClose(this.why);
  }

  /** Says good-bye and waits until the server has heard it, so that the name is free again; not for long. */
  async close(): Promise<void> {
    if (!this.closed) this.write('QUIT :Calm Lantern');
    this.end();
    if (this.socket.closed) return;
    await new Promise<void>((resolve) => {
      const timer = setTimeout(() => this.socket.destroy(), LEAVE_MS);
      this.socket.once('close', () => {
        clearTimeout(timer);
        resolve();
      });
      this.socket.end();
    });
  }
}

function rest(ms: number, signal?: AbortSignal): Promise<void> {
  return new Promise((resolve, reject) => {
    const stop = () => {
      clearTimeout(timer);
      reject(new Error('called off'));
    };
    const timer = setTimeout(() => {
      signal?.removeEventListener('abort', stop);
      resolve();
    }, ms);
    signal?.addEventListener('abort', stop, { once: true });
  });
}
