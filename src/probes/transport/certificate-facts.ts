import { DAY_MS } from '@/core/time/units';
import {
  checkServerIdentity,
  type PeerCertificate,
  type DetailedPeerCertificate,
  type TLSSocket,
} from 'node:tls';
import { formatDuration } from '@/core/time/duration';
import type { CertificateFacts } from '@/core/causes/finding';
import type { Failure } from '@/probes/frame/socket-cause';

const TRUST_REASONS: Record<string, string> = {
  DEPTH_ZERO_SELF_SIGNED_CERT: 'it is signed by itself',
  SELF_SIGNED_CERT_IN_CHAIN: 'its chain ends in an authority of its own',
  UNABLE_TO_GET_ISSUER_CERT_LOCALLY: 'its authority is unknown here',
  CERT_HAS_EXPIRED: 'a certificate above it has expired',
  UNABLE_TO_VERIFY_LEAF_SIGNATURE: 'the server does not send the certificate in between',
};

const PROTOCOLS = ['TLSv1', 'TLSv1.1', 'TLSv1.2', 'TLSv1.3'];
const MOST_NAMES = 50;
const MOST_CHAIN = 10;

/** What is asked of a certificate beyond being valid. */
export interface CertificateChecks {
  /** Days left under which it is a matter of soon, and of now. */
  soonDays?: number;
  urgentDays?: number;
  leastProtocol?: string;
  /** Asks for RSA 2048 or EC 224 at least (NIST SP 800-57: 112 bits of strength). */
  strongKey?: boolean;
}

/** What is asked where a kind has no limits of its own. */
export const USUAL_CHECKS = {
  soonDays: 21,
  urgentDays: 5,
  leastProtocol: 'TLSv1.2',
} satisfies CertificateChecks;

function single(value: string | string[] | undefined): string {
  return Array.isArray(value) ? value.join(', ') : (value ?? '');
}

function when(text: string): number | null {
  const at = Date.parse(text);
  return Number.isNaN(at) ? null : at;
}

function chainOf(certificate: DetailedPeerCertificate): string[] {
  const chain: string[] = [];
  let at: DetailedPeerCertificate | undefined = certificate;
  while (at && chain.length < MOST_CHAIN) {
    chain.push(single(at.subject?.CN) || single(at.subject?.O) || 'no name');
    if (at.issuerCertificate === at) break;
    at = at.issuerCertificate;
  }
  return chain;
}

function keyOf({ bits, nistCurve, asn1Curve }: PeerCertificate): { text: string; strong: boolean } | null {
  if (nistCurve ?? asn1Curve) return { text: `EC ${nistCurve ?? asn1Curve}`, strong: (bits ?? 256) >= 224 };
  return bits === undefined ? null : { text: `RSA ${bits}`, strong: bits >= 2048 };
}

/** The certificate a server showed on a connected socket, with its chain, its key and the protocol agreed on. */
export function certificateFactsOf(socket: TLSSocket): CertificateFacts | undefined {
  const certificate = socket.getPeerCertificate(true);
  if (!certificate?.raw) return undefined;
  const names = (certificate.subjectaltname ?? '')
    .split(/,\s*/)
    .filter(Boolean)
    .map((name) => name.replace(/^(DNS|IP Address):/, ''));
  return {
    subject: single(certificate.subject?.CN),
    issuer: single(certificate.issuer?.O) || single(certificate.issuer?.CN),
    names: names.slice(0, MOST_NAMES),
    validFrom: when(certificate.valid_from),
    validTo: when(certificate.valid_to),
    fingerprint: certificate.fingerprint256?.replaceAll(':', '').toLowerCase(),
    protocol: socket.getProtocol() ?? undefined,
    key: keyOf(certificate)?.text,
    chain: chainOf(certificate),
  };
}

/**
 * What is wrong with the certificate of a connected socket, or null; `warning` where it still holds. Node
 * reports one fault only, and hides a wrong name behind an expired date, so each is worked out by itself
 * (RFC 5280, RFC 6125).
 */
export function certificateFailure(
  socket: TLSSocket,
  host: string,
  now: number,
  checks: CertificateChecks,
): (Failure & { warning?: true }) | null {
  const certificate = socket.getPeerCertificate(false);
  if (!certificate?.raw)
    return { cause: 'tls.failed', detail: { reason: 'the server shows no certificate' } };
  const validFrom = when(certificate.valid_from);
  const validTo = when(certificate.valid_to);
  if (validFrom === null || validTo === null || validFrom > validTo) {
    const dates = `${certificate.valid_from} to ${certificate.valid_to}`;
    return { cause: 'tls.bad-dates', detail: { dates } };
  }
  if (validTo < now) return { cause: 'tls.expired', detail: { ago: formatDuration(now - validTo) } };
  if (validFrom > now)
    return { cause: 'tls.not-yet-valid', detail: { ahead: formatDuration(validFrom - now) } };
  if (!certificate.subjectaltname) {
    return { cause: 'tls.no-names', detail: { subject: single(certificate.subject?.CN) || 'none' } };
  }
  if (checkServerIdentity(host, certificate)) {
    const facts = certificateFactsOf(socket)!;
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
  return (
    strengthFailure(socket, certificate, checks) ??
    expiryFailure(validTo - now, checks) ??
    chainFailure(socket.getPeerCertificate(true), now, checks)
  );
}

function strengthFailure(
  socket: TLSSocket,
  certificate: PeerCertificate,
  { leastProtocol, strongKey }: CertificateChecks,
): Failure | null {
  const protocol = socket.getProtocol() ?? '';
  if (leastProtocol && PROTOCOLS.indexOf(protocol) < PROTOCOLS.indexOf(leastProtocol)) {
    return { cause: 'tls.old-protocol', detail: { protocol, least: leastProtocol } };
  }
  const key = keyOf(certificate);
  if (strongKey && key && !key.strong) return { cause: 'tls.weak-key', detail: { key: key.text } };
  return null;
}

function expiryFailure(
  leftMs: number,
  { soonDays, urgentDays }: CertificateChecks,
): (Failure & { warning?: true }) | null {
  const detail = { left: formatDuration(leftMs) };
  if (urgentDays !== undefined && leftMs < urgentDays * DAY_MS) {
    return { cause: 'tls.expires-urgent', detail, warning: true };
  }
  if (soonDays !== undefined && leftMs < soonDays * DAY_MS) {
    return { cause: 'tls.expires-soon', detail, warning: true };
  }
  return null;
}

/** A certificate between the server's own and its root that ends before anybody thinks of it. */
function chainFailure(
  own: DetailedPeerCertificate,
  now: number,
  { soonDays }: CertificateChecks,
): (Failure & { warning: true }) | null {
  if (soonDays === undefined) return null;
  let at: DetailedPeerCertificate | undefined = own?.issuerCertificate;
  for (let depth = 1; at && at.issuerCertificate !== at && depth < MOST_CHAIN; depth += 1) {
    // The root comes last, and is this machine's to renew.
    if (!at.issuerCertificate) return null;
    const until = when(at.valid_to);
    if (until !== null && until - now < soonDays * DAY_MS) {
      const name = single(at.subject?.CN) || single(at.subject?.O) || 'no name';
      return {
        cause: 'tls.chain-expires-soon',
        detail: { name, left: formatDuration(until - now) },
        warning: true,
      };
    }
    at = at.issuerCertificate;
  }
  return null;
}
