import { connect as netConnect, isIP, type Socket } from 'node:net';
import { connect as tlsConnect, type ConnectionOptions, type TLSSocket } from 'node:tls';
import { formatBytes } from '@/core/time/duration';
import { certificateFactsOf, certificateFailure, type CertificateChecks } from './certificate-facts';
import type { Run } from '@/probes/frame/run';
import { LookFailure } from '@/probes/frame/socket-cause';
import { trustFor, type Trust } from './trust';

export interface Where {
  host: string;
  port: number;
  family?: 4 | 6;
}

/** How TLS is spoken, and what is asked of the certificate. */
export interface TlsWish extends Trust {
  servername: string;
  checks?: CertificateChecks;
  alpn?: string[];
}

const endings = new WeakMap<Socket, () => void>();

/** Destroys a socket when the look ends, whichever way. */
function endWithLook(run: Run, socket: Socket): void {
  const onEnd = () => socket.destroy();
  const release = run.onEnd(onEnd);
  endings.set(socket, release);
  socket.once('close', release);
  socket.on('error', () => undefined);
}

/** Opens a TCP connection; name and connect phases, address and stage are noted on the run. */
export function openConnection(run: Run, { host, port, family }: Where): Promise<Socket> {
  run.stage = isIP(host) ? 'connect' : 'name';
  run.target.port = port;
  return new Promise((resolve, reject) => {
    const socket = netConnect({ host, port, family, lookup: run.lookup, autoSelectFamily: true });
    endWithLook(run, socket);
    socket.on('lookup', (error, address) => {
      if (error || run.stage !== 'name') return;
      run.target.address = String(address);
      run.lap('name', 'connect');
    });
    socket.once('error', reject);
    socket.once('connect', () => {
      socket.off('error', reject);
      run.target.address = socket.remoteAddress ?? run.target.address;
      run.lap('connect', 'reply');
      resolve(socket);
    });
  });
}

/** Speaks TLS over an open connection and checks the certificate; throws a `LookFailure` where it does not hold. */
export async function secureConnection(run: Run, under: Socket, wish: TlsWish): Promise<TLSSocket> {
  run.stage = 'certificate';
  const options: ConnectionOptions = {
    socket: under,
    servername: isIP(wish.servername) ? '' : wish.servername,
    rejectUnauthorized: false,
    // Asked for by ourselves, so that a wrong name and an unknown authority are told apart.
    checkServerIdentity: () => undefined,
    secureContext: trustFor(wish),
    ALPNProtocols: wish.alpn,
  };
  const secure = await new Promise<TLSSocket>((resolve, reject) => {
    const socket = tlsConnect(options);
    // From here on TLS owns the connection below; destroying both at once crashes Node.
    endings.get(under)?.();
    endWithLook(run, socket);
    socket.once('error', reject);
    // Both sides of a handshake may hang up without a word.
    under.once('close', () => reject(Object.assign(new Error('closed'), { code: 'ECONNRESET' })));
    socket.once('secureConnect', () => {
      socket.off('error', reject);
      resolve(socket);
    });
  });
  run.lap('certificate', 'reply');
  checkCertificate(run, secure, wish.servername, wish);
  return secure;
}

/** Notes a certificate, and fails or warns by what is wrong with it, as far as it is to be checked. */
export function checkCertificate(
  run: Run,
  socket: TLSSocket,
  host: string,
  { checks = {}, skipVerify }: { checks?: CertificateChecks; skipVerify?: boolean },
): void {
  run.evidence.certificate = certificateFactsOf(socket);
  const failure = certificateFailure(socket, host, run.context.now(), checks);
  if (skipVerify) run.evidence.unchecked = true;
  else if (failure?.warning) run.warn(failure.cause, failure.detail);
  else if (failure) throw new LookFailure(failure);
}

/** Fails the look when more than this comes on a socket from here on; for libraries that would gather any amount. */
export function limitBytes(run: Run, socket: Socket, mostBytes = 4_000_000): void {
  let left = mostBytes;
  socket.on('data', (chunk: Buffer) => {
    left -= chunk.length;
    if (left < 0) run.breakOff({ cause: 'reply.too-large', detail: { limit: formatBytes(mostBytes) } });
  });
}

/** What a socket sends, taken piece by piece. A connection that ends while more is wanted is an error. */
export class Conversation {
  private buffer = Buffer.alloc(0);
  private ended = false;
  private problem: Error | null = null;
  private wake: () => void = () => undefined;

  constructor(
    private readonly run: Run,
    readonly socket: Socket,
    private readonly mostBytes = 256 * 1024,
  ) {
    socket.on('data', this.onData);
    socket.on('end', this.onEnd);
    socket.on('close', this.onEnd);
    socket.on('error', this.onError);
  }

  private readonly onData = (chunk: Buffer) => {
    this.buffer = Buffer.concat([this.buffer, chunk]);
    if (this.buffer.length > this.mostBytes) this.socket.pause();
    this.wake();
  };
  private readonly onEnd = () => {
    this.ended = true;
    this.wake();
  };
  private readonly onError = (error: Error) => {
    this.problem = error;
    this.wake();
  };

  /** Stops listening, so that TLS can take the socket over. */
  release(): Socket {
    this.socket.off('data', this.onData);
    this.socket.off('end', this.onEnd);
    this.socket.off('close', this.onEnd);
    this.socket.off('error', this.onError);
    return this.socket;
  }

  send(data: string | Buffer): void {
    this.socket.write(data);
  }

  /** Waits until `take` finds what it wants in the bytes so far; it returns how many it took and what they are. */
  async take<T>(take: (bytes: Buffer, ended: boolean) => { used: number; value: T } | null): Promise<T> {
    for (;;) {
      const found = take(this.buffer, this.ended);
      if (found) {
        this.buffer = this.buffer.subarray(found.used);
        return found.value;
      }
      if (this.problem) throw this.problem;
      if (this.ended) throw Object.assign(new Error('closed'), { code: 'ECONNRESET' });
      if (this.buffer.length > this.mostBytes)
        this.run.fail('reply.too-large', { limit: `${this.mostBytes} bytes` });
      await new Promise<void>((resolve) => (this.wake = resolve));
    }
  }

  /** One line without its end. */
  line(): Promise<string> {
    return this.take((bytes) => {
      const end = bytes.indexOf(10);
      return end < 0
        ? null
        : { used: end + 1, value: bytes.subarray(0, end).toString('utf8').replace(/\r$/, '') };
    });
  }

  bytes(count: number): Promise<Buffer> {
    return this.take((bytes) =>
      bytes.length < count ? null : { used: count, value: bytes.subarray(0, count) },
    );
  }
}
