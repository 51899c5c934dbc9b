import { createHash } from 'node:crypto';
import { createSecureContext, type SecureContext } from 'node:tls';
import { LookFailure } from '@/probes/frame/socket-cause';
import { trusting } from '@/outside/authority';

/** Whom a TLS connection trusts and who it says it is. */
export interface Trust {
  /** Further authorities, PEM. */
  authority?: string;
  /** The certificate shown to the server, PEM, and its key. */
  clientCertificate?: string;
  clientKey?: string;
  skipVerify?: boolean;
}

/** More trust settings than this at once are not kept ready. */
const MOST_KEPT = 200;
const kept = new Map<string, SecureContext>();

/** One context for each trust setting, shared by all looks: building it is a quarter of a handshake. */
export function trustFor({ authority = '', clientCertificate = '', clientKey = '' }: Trust): SecureContext {
  const name = createHash('sha256')
    .update([authority, clientCertificate, clientKey].join('\0'))
    .digest('hex');
  const ready = kept.get(name);
  if (ready) return ready;
  try {
    const context = createSecureContext({
      minVersion: 'TLSv1',
      // A server with old protocols is to be told as such, not as one that does not answer.
      ciphers: 'DEFAULT@SECLEVEL=0',
      ...trusting(authority),
      ...(clientCertificate && { cert: clientCertificate, key: clientKey }),
    });
    if (kept.size >= MOST_KEPT) kept.delete(kept.keys().next().value!);
    kept.set(name, context);
    return context;
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === 'ERR_OSSL_X509_KEY_VALUES_MISMATCH') {
      throw new LookFailure({ cause: 'look.wrong-key', detail: {} });
    }
    const reason = `the certificate given for it cannot be used (${(error as Error).message})`;
    throw new LookFailure({ cause: 'look.broken', detail: { reason } });
  }
}
