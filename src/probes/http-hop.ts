import http from 'node:http';
import https from 'node:https';
import { isIP } from 'node:net';
import { createSecureContext, type SecureContext, type TLSSocket } from 'node:tls';
import type { CertificateFacts, Phases } from '../core/finding';
import { certificateFacts, certificateFailure } from './certificate';
import type { LookContext } from './kind';
import { errorCause, LookFailure, timeoutCause, type Stage, type Target } from './socket-cause';

/** At most this much of a body is read. */
export const MOST_BODY_BYTES = 1_000_000;

let sharedContext: SecureContext | undefined;
/** One context for all looks: building it is a quarter of a handshake. */
function secureContext(): SecureContext {
  sharedContext ??= createSecureContext();
  return sharedContext;
}

/** What is known of one request so far; it is filled in as the request goes on, so failures keep it. */
export interface Hop {
  stage: Stage;
  phases: Phases;
  address?: string;
  certificate?: CertificateFacts;
  status?: number;
  headers?: http.IncomingHttpHeaders;
  bytes: number;
  body: Buffer[];
}

/** One request over a new connection. Resolves once the reply is complete; rejects with a `LookFailure`. */
export function requestHop(url: URL, hop: Hop, context: LookContext, leftMs: number): Promise<void> {
  const secure = url.protocol === 'https:';
  const host = url.hostname.replace(/^\[|\]$/g, '');
  const target: Target = {
    host,
    port: Number(url.port) || (secure ? 443 : 80),
    timeoutMs: context.timeoutMs,
  };
  return new Promise((resolve, reject) => {
    let mark = context.monotonic();
    let settled = false;
    const lap = (phase: keyof Phases, next: Stage) => {
      const now = context.monotonic();
      hop.phases[phase] = now - mark;
      mark = now;
      hop.stage = next;
    };
    const request = (secure ? https : http).request(url, {
      agent: false,
      lookup: context.lookup,
      headers: { 'user-agent': 'CalmLantern', accept: '*/*', 'accept-encoding': 'identity' },
      ...(secure && {
        rejectUnauthorized: false,
        secureContext: secureContext(),
        servername: isIP(host) ? '' : host,
      }),
    });
    const timer = setTimeout(() => fail(new LookFailure(timeoutCause(hop.stage, target))), leftMs);
    const onAbort = () =>
      fail(new LookFailure({ cause: 'look.broken', detail: { reason: 'it was called off' } }));
    const finish = () => {
      if (settled) return false;
      settled = true;
      clearTimeout(timer);
      context.signal.removeEventListener('abort', onAbort);
      request.destroy();
      return true;
    };
    const fail = (failure: LookFailure) => {
      if (finish()) reject(failure);
    };
    const done = () => {
      if (finish()) resolve();
    };
    const onError = (error: Error) =>
      fail(error instanceof LookFailure ? error : new LookFailure(errorCause(error, hop.stage, target)));
    context.signal.addEventListener('abort', onAbort, { once: true });

    hop.stage = isIP(host) ? 'connect' : 'name';
    request.on('error', onError);
    request.on('socket', (socket) => {
      socket.on('lookup', (error, address) => {
        if (error) return;
        hop.address = target.address = String(address);
        lap('name', 'connect');
      });
      socket.on('connect', () => {
        hop.address = target.address = socket.remoteAddress ?? hop.address;
        lap('connect', secure ? 'certificate' : 'reply');
      });
      socket.on('secureConnect', () => {
        lap('certificate', 'reply');
        const tls = socket as TLSSocket;
        const certificate = tls.getPeerCertificate();
        if (!certificate?.valid_to) return;
        hop.certificate = certificateFacts(certificate);
        const failure = certificateFailure(tls, certificate, host, context.now());
        if (failure) fail(new LookFailure(failure));
      });
    });
    request.on('response', (response) => {
      lap('firstByte', 'download');
      hop.status = response.statusCode;
      hop.headers = response.headers;
      response.on('data', (chunk: Buffer) => {
        hop.bytes += chunk.length;
        hop.body.push(chunk);
        if (hop.bytes >= MOST_BODY_BYTES) {
          lap('download', 'download');
          done();
        }
      });
      response.on('error', onError);
      response.on('end', () => {
        lap('download', 'download');
        if (response.complete) done();
        else fail(new LookFailure({ cause: 'reply.cut-off', detail: {} }));
      });
    });
    request.end();
  });
}
