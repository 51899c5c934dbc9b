import { checkServerIdentity, type PeerCertificate, type TLSSocket } from 'node:tls';
import { formatDuration } from '../core/duration';
import type { CertificateFacts } from '../core/finding';
import type { Failure } from './socket-cause';

const TRUST_REASONS: Record<string, string> = {
  DEPTH_ZERO_SELF_SIGNED_CERT: 'it is signed by itself',
  SELF_SIGNED_CERT_IN_CHAIN: 'its chain ends in an authority of its own',
  UNABLE_TO_GET_ISSUER_CERT_LOCALLY: 'its authority is unknown here',
  UNABLE_TO_VERIFY_LEAF_SIGNATURE: 'the server does not send the certificate in between',
};

function single(value: string | string[] | undefined): string {
  return Array.isArray(value) ? value.join(', ') : (value ?? '');
}

export function certificateFacts(certificate: PeerCertificate): CertificateFacts {
  const names = (certificate.subjectaltname ?? '')
    .split(/,\s*/)
    .filter(Boolean)
    .map((name) => name.replace(/^(DNS|IP Address):/, ''));
  return {
    subject: single(certificate.subject?.CN),
    issuer: single(certificate.issuer?.O) || single(certificate.issuer?.CN),
    names,
    validFrom: Date.parse(certificate.valid_from),
    validTo: Date.parse(certificate.valid_to),
  };
}

/**
 * What is wrong with the certificate of a connected socket, or null. Node reports one fault only, and hides a
 * wrong name behind an expired date, so each is worked out by itself (RFC 5280, RFC 6125).
 */
export function certificateFailure(
  socket: TLSSocket,
  certificate: PeerCertificate,
  host: string,
  now: number,
): Failure | null {
  const facts = certificateFacts(certificate);
  if (facts.validTo < now) {
    return { cause: 'tls.expired', detail: { ago: formatDuration(now - facts.validTo) } };
  }
  if (facts.validFrom > now) {
    return { cause: 'tls.not-yet-valid', detail: { ahead: formatDuration(facts.validFrom - now) } };
  }
  if (checkServerIdentity(host, certificate)) {
    const names = facts.names.slice(0, 3).join(', ') || facts.subject || 'no name';
    return { cause: 'tls.wrong-name', detail: { names, host } };
  }
  if (!socket.authorized) {
    const code = String(socket.authorizationError ?? 'unknown');
    return {
      cause: 'tls.untrusted',
      detail: { reason: TRUST_REASONS[code] ?? code.toLowerCase().replaceAll('_', ' ') },
    };
  }
  return null;
}
