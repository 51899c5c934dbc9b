import 'reflect-metadata';
import { webcrypto } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { isIP } from 'node:net';
import { join } from 'node:path';
import {
  BasicConstraintsExtension,
  cryptoProvider,
  KeyUsageFlags,
  KeyUsagesExtension,
  SubjectAlternativeNameExtension,
  X509Certificate,
  X509CertificateGenerator,
} from '@peculiar/x509';

cryptoProvider.set(webcrypto as unknown as Crypto);

const ALGORITHM = { name: 'ECDSA', namedCurve: 'P-256', hash: 'SHA-256' };
const DAY_MS = 86_400_000;

export interface KeyAndCertificate {
  key: string;
  cert: string;
}

export interface Authority {
  certificate: X509Certificate;
  keys: CryptoKeyPair;
  /** The authority's own certificate, PEM. */
  pem: string;
}

function pemOf(label: string, bytes: ArrayBuffer): string {
  const text = Buffer.from(bytes)
    .toString('base64')
    .replace(/(.{64})/g, '$1\n');
  return `-----BEGIN ${label}-----\n${text.trimEnd()}\n-----END ${label}-----\n`;
}

async function newKeys(): Promise<CryptoKeyPair> {
  return (await webcrypto.subtle.generateKey(ALGORITHM, true, ['sign', 'verify'])) as CryptoKeyPair;
}

/** A certificate authority that nobody trusts unless told to. */
export async function makeAuthority(name = 'Tern Island Practice Authority'): Promise<Authority> {
  const keys = await newKeys();
  const certificate = await X509CertificateGenerator.createSelfSigned({
    serialNumber: '01',
    name: `CN=${name}, O=${name}`,
    notBefore: new Date(Date.now() - DAY_MS),
    notAfter: new Date(Date.now() + 3650 * DAY_MS),
    signingAlgorithm: ALGORITHM,
    keys,
    extensions: [
      new BasicConstraintsExtension(true, undefined, true),
      new KeyUsagesExtension(KeyUsageFlags.keyCertSign | KeyUsageFlags.cRLSign, true),
    ],
  });
  return { certificate, keys, pem: certificate.toString('pem') };
}

/** The authority kept in a folder; made on first use. */
export async function keptAuthority(folder: string): Promise<Authority> {
  const keyFile = join(folder, 'practice-ca-key.json');
  const certFile = join(folder, 'practice-ca.pem');
  if (existsSync(keyFile) && existsSync(certFile)) {
    const jwk = JSON.parse(readFileSync(keyFile, 'utf8')) as { private: JsonWebKey; public: JsonWebKey };
    const load = (key: JsonWebKey, use: 'sign' | 'verify') =>
      webcrypto.subtle.importKey('jwk', key as never, ALGORITHM, true, [use]);
    const keys = {
      privateKey: await load(jwk.private, 'sign'),
      publicKey: await load(jwk.public, 'verify'),
    } as CryptoKeyPair;
    const pem = readFileSync(certFile, 'utf8');
    return { certificate: new X509Certificate(pem), keys, pem };
  }
  const authority = await makeAuthority();
  mkdirSync(folder, { recursive: true });
  const jwk = {
    private: await webcrypto.subtle.exportKey('jwk', authority.keys.privateKey as never),
    public: await webcrypto.subtle.exportKey('jwk', authority.keys.publicKey as never),
  };
  writeFileSync(keyFile, JSON.stringify(jwk), { mode: 0o600 });
  writeFileSync(certFile, authority.pem);
  return authority;
}

/** An authority between another one and its servers, for some days. */
export async function issueAuthority(above: Authority, name: string, toDays: number): Promise<Authority> {
  const keys = await newKeys();
  const certificate = await X509CertificateGenerator.create({
    serialNumber: '02',
    subject: `CN=${name}`,
    issuer: above.certificate.subject,
    notBefore: new Date(Date.now() - DAY_MS),
    notAfter: new Date(Date.now() + toDays * DAY_MS),
    signingAlgorithm: ALGORITHM,
    publicKey: keys.publicKey,
    signingKey: above.keys.privateKey,
    extensions: [
      new BasicConstraintsExtension(true, undefined, true),
      new KeyUsagesExtension(KeyUsageFlags.keyCertSign | KeyUsageFlags.cRLSign, true),
    ],
  });
  return { certificate, keys, pem: certificate.toString('pem') };
}

/** A server certificate signed by an authority. Times are days from now. */
export async function issueCertificate(
  authority: Authority,
  options: { names: string[]; fromDays?: number; toDays?: number; withoutNames?: true },
): Promise<KeyAndCertificate> {
  const keys = await newKeys();
  const certificate = await X509CertificateGenerator.create({
    serialNumber: Buffer.from(webcrypto.getRandomValues(new Uint8Array(8))).toString('hex'),
    subject: `CN=${options.names[0]}`,
    issuer: authority.certificate.subject,
    notBefore: new Date(Date.now() + (options.fromDays ?? -1) * DAY_MS),
    notAfter: new Date(Date.now() + (options.toDays ?? 61) * DAY_MS),
    signingAlgorithm: ALGORITHM,
    publicKey: keys.publicKey,
    signingKey: authority.keys.privateKey,
    extensions: options.withoutNames
      ? []
      : [
          new SubjectAlternativeNameExtension(
            options.names.map((value) =>
              isIP(value) ? { type: 'ip' as const, value } : { type: 'dns' as const, value },
            ),
          ),
        ],
  });
  const exported = await webcrypto.subtle.exportKey('pkcs8', keys.privateKey as never);
  return { key: pemOf('PRIVATE KEY', exported), cert: certificate.toString('pem') };
}
