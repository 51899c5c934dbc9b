import { createServer, type Socket } from 'node:net';
import { listen, trackSockets } from './listener';
import { PracticeService, type Opened } from './service';

/** A message of the PostgreSQL protocol, version 3: type, length, content. */
function message(type: string, ...parts: (Buffer | string | number)[]): Buffer {
  const content = Buffer.concat(
    parts.map((part) => {
      if (typeof part === 'string') return Buffer.from(`${part}\0`);
      if (typeof part !== 'number') return part;
      const bytes = Buffer.alloc(4);
      bytes.writeInt32BE(part);
      return bytes;
    }),
  );
  const head = Buffer.alloc(5);
  head.write(type, 0, 'latin1');
  head.writeInt32BE(content.length + 4, 1);
  return Buffer.concat([head, content]);
}

const short = (value: number) => Buffer.from([value >> 8, value & 255]);
const READY = message('Z', Buffer.from('I'));

/**
 * The booking ledger: enough of a PostgreSQL server to sign in and to be asked one question, whatever it is.
 * It answers with one row of one column.
 */
export class PracticeLedger extends PracticeService {
  readonly modes = ['fine', 'stopped', 'refuses sign-in', 'query fails', 'other value'] as const;

  constructor(
    id: string,
    title: string,
    port: number,
    private readonly value: { fine: string; other: string },
  ) {
    super(id, title, port);
  }

  override get address(): string {
    return `127.0.0.1:${this.port} (PostgreSQL)`;
  }

  protected async open(port: number): Promise<Opened> {
    const server = createServer((socket) => this.serve(socket));
    const close = trackSockets(server);
    return { port: await listen(server, port), close };
  }

  private serve(socket: Socket): void {
    let bytes = Buffer.alloc(0);
    let started = false;
    socket.on('error', () => socket.destroy());
    socket.on('data', (chunk) => {
      bytes = Buffer.concat([bytes, chunk]);
      for (;;) {
        const at = started ? 1 : 0;
        if (bytes.length < at + 4) return;
        const length = bytes.readInt32BE(at) + at;
        if (bytes.length < length) return;
        const taken = bytes.subarray(0, length);
        bytes = bytes.subarray(length);
        if (started) this.answer(socket, String.fromCharCode(taken[0]!), taken.subarray(5));
        else started = this.greet(socket, taken.readInt32BE(4));
      }
    });
  }

  /** Returns whether the connection has begun in earnest. */
  private greet(socket: Socket, code: number): boolean {
    const SSL_REQUEST = 80877103;
    if (code === SSL_REQUEST) {
      socket.write('N');
      return false;
    }
    if (this.mode === 'refuses sign-in') {
      socket.end(this.fault('28P01', 'password authentication failed for this account'));
      return true;
    }
    socket.write(Buffer.concat([message('R', 0), message('S', 'server_version', '15.0'), READY]));
    return true;
  }

  private fault(code: string, text: string): Buffer {
    return message('E', 'SERROR', `C${code}`, `M${text}`, Buffer.from([0]));
  }

  private row(): Buffer[] {
    const value = this.mode === 'other value' ? this.value.other : this.value.fine;
    return [message('D', short(1), value.length, Buffer.from(value))];
  }

  private columns(): Buffer {
    const TEXT = 25;
    return message('T', short(1), 'value', 0, short(0), TEXT, short(0xffff), 0xffffffff | 0, short(0));
  }

  private answer(socket: Socket, type: string, content: Buffer): void {
    const failing = this.mode === 'query fails';
    const text = content.toString('latin1');
    if (type === 'X') socket.end();
    else if (type === 'Q') {
      // BEGIN, COMMIT, SET and the like have no rows.
      const asks = /^\s*(select|show|with)/i.test(text);
      const body = asks && !failing ? [this.columns(), ...this.row()] : [];
      const done = asks && failing ? this.fault('42P01', 'relation does not exist') : message('C', 'OK');
      socket.write(Buffer.concat([...body, done, READY]));
    } else if (type === 'P')
      socket.write(failing ? this.fault('42P01', 'relation does not exist') : message('1'));
    else if (failing && type !== 'S') return;
    else if (type === 'B') socket.write(message('2'));
    else if (type === 'D') socket.write(this.columns());
    else if (type === 'E') socket.write(Buffer.concat([...this.row(), message('C', 'SELECT 1')]));
    else if (type === 'S') socket.write(READY);
  }
}
