import { X509Certificate } from 'node:crypto';
import { rootCertificates } from 'node:tls';

/** What is wrong with a text that should be a certificate (PEM), in words, or null. */
export function pemProblem(text: string): string | null {
  try {
    new X509Certificate(text);
    return null;
  } catch {
    return 'Expected a certificate that begins with -----BEGIN CERTIFICATE-----.';
  }
}

/** Options of a TLS connection that trusts an authority of one's own besides those of this machine; empty for none. */
export function trusting(authority: string): { ca?: string[] } {
  return authority === '' ? {} : { ca: [...rootCertificates, authority] };
}
