import type { CauseCode, CauseDetail } from '@/core/causes/causes';
import { formatDuration } from '@/core/time/duration';

export interface Failure {
  cause: CauseCode;
  detail: CauseDetail;
}

/** A failure a probe found itself, carried through a rejected promise. */
export class LookFailure extends Error {
  constructor(readonly failure: Failure) {
    super(failure.cause);
  }
}

export type Stage = 'name' | 'connect' | 'certificate' | 'reply' | 'download';

export interface Target {
  host: string;
  port: number;
  address?: string;
  /** Only addresses of this family are wanted. */
  family?: 4 | 6;
  timeoutMs: number;
}

/** The cause for a look whose time ran out in a stage. */
export function timeoutCause(stage: Stage, target: Target): Failure {
  const limit = formatDuration(target.timeoutMs);
  switch (stage) {
    case 'name':
      return { cause: 'name.timeout', detail: { host: target.host, limit } };
    case 'connect':
      // Port 0: the host itself is asked, not a port of it.
      if (target.port === 0) return { cause: 'host.silent', detail: { host: target.host } };
      return { cause: 'port.timeout', detail: { port: target.port, limit } };
    case 'certificate':
      return { cause: 'tls.failed', detail: { reason: `the handshake took longer than ${limit}` } };
    case 'reply':
      return { cause: 'reply.timeout', detail: { limit } };
    case 'download':
      return { cause: 'reply.unfinished', detail: { limit } };
  }
}

/** Translates a system or TLS error into a cause, once, by its code and by the stage it came in. */
export function errorCause(error: NodeJS.ErrnoException, stage: Stage, target: Target): Failure {
  const code = error.code ?? '';
  switch (code) {
    case 'ENOTFOUND':
    case 'ENODATA':
      if (target.family)
        return { cause: 'name.no-family', detail: { host: target.host, family: `IPv${target.family}` } };
      return { cause: 'name.not-found', detail: { host: target.host } };
    case 'EREFUSED':
      return { cause: 'name.refused', detail: { host: target.host } };
    case 'ETIMEOUT':
      return timeoutCause('name', target);
    case 'EAI_AGAIN':
    case 'EAI_FAIL':
    case 'ESERVFAIL':
      return { cause: 'name.server-failed', detail: { host: target.host } };
    case 'ECONNREFUSED':
      return { cause: 'port.refused', detail: { port: target.port } };
    case 'EHOSTUNREACH':
    case 'ENETUNREACH':
    case 'EHOSTDOWN':
    case 'EADDRNOTAVAIL':
      return { cause: 'host.no-route', detail: { address: target.address ?? target.host } };
    case 'ETIMEDOUT':
      return timeoutCause(stage, target);
    case 'EMFILE':
    case 'ENFILE':
    case 'ENOBUFS':
      return { cause: 'look.broken', detail: { reason: 'this machine ran out of network sockets' } };
  }
  if (code === 'HPE_HEADER_OVERFLOW') return { cause: 'reply.header-flood', detail: {} };
  if (code.startsWith('HPE_')) {
    // RFC 8446, 5.1: an alert of TLS begins with 21 and the version.
    const begins = (error as { rawPacket?: Buffer }).rawPacket;
    if (begins?.[0] === 0x15 && begins[1] === 0x03) {
      return { cause: 'reply.speaks-tls', detail: { port: target.port } };
    }
    return stage === 'download'
      ? { cause: 'reply.broken-pieces', detail: {} }
      : { cause: 'reply.unreadable', detail: { reason: 'its answer is not a valid HTTP reply' } };
  }
  if (stage === 'certificate')
    return { cause: 'tls.failed', detail: { reason: tlsReason(code, error.message) } };
  if (code === 'ECONNRESET' || code === 'EPIPE' || code === 'ECONNABORTED') {
    return stage === 'connect'
      ? { cause: 'port.closed', detail: { port: target.port } }
      : { cause: stage === 'download' ? 'reply.cut-off' : 'reply.closed', detail: {} };
  }
  if (stage === 'name') return { cause: 'name.server-failed', detail: { host: target.host } };
  return { cause: 'look.broken', detail: { reason: code || error.message } };
}

const TLS_REASONS: Record<string, string> = {
  ERR_SSL_WRONG_VERSION_NUMBER: 'this port does not speak TLS',
  ERR_SSL_PACKET_LENGTH_TOO_LONG: 'this port does not speak TLS',
  EPROTO: 'the two sides do not agree on a protocol',
  ERR_SSL_TLSV1_ALERT_PROTOCOL_VERSION: 'the server only offers protocol versions that are too old',
  ERR_SSL_UNSUPPORTED_PROTOCOL: 'the server only offers protocol versions that are too old',
  ECONNRESET: 'the server ended the connection during the handshake',
};

function tlsReason(code: string, message: string): string {
  // One code stands for many things; what OpenSSL says of it tells which.
  if (/wrong version number|packet length too long|http request/i.test(message))
    return 'this port does not speak TLS';
  return TLS_REASONS[code] ?? code.toLowerCase().replaceAll('_', ' ');
}
