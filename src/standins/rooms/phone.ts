import {
  createDecipheriv,
  createHash,
  createECDH,
  createPublicKey,
  hkdfSync,
  verify,
  type ECDH,
} from 'node:crypto';
import { PracticeRoom, type RoomCall, type RoomReply } from './practice-room';

/** A phone with its push service: it opens what is sealed for it (RFC 8291), and takes only what is signed (RFC 8292). */
export class PracticePhone extends PracticeRoom {
  private readonly keys: ECDH = createECDH('prime256v1');
  private readonly auth = createHash('sha256').update('the phone of Ines').digest().subarray(0, 16);

  protected override readonly refusal = { status: 410, body: 'the subscription has ended' };

  constructor() {
    super('phone', 'Ines’s phone', 'Web Push');
    // The same at every start: whoever switched it on is still known by it.
    this.keys.setPrivateKey(createHash('sha256').update('the key of the phone of Ines').digest());
  }

  /** What the phone’s browser would tell the desk; `base` is where this room is reached. */
  subscription(base: string): { endpoint: string; p256dh: string; auth: string } {
    return {
      endpoint: `${base}/push/ines`,
      p256dh: this.keys.getPublicKey('base64url'),
      auth: this.auth.toString('base64url'),
    };
  }

  protected hear({ headers, body, path }: RoomCall): RoomReply {
    if (path !== '/push/ines') return { status: 404, body: 'no such subscription' };
    if (headers['content-encoding'] !== 'aes128gcm') return { status: 415, body: 'expected aes128gcm' };
    if (!/^\d+$/.test(String(headers.ttl))) return { status: 400, body: 'expected a TTL' };
    if (!isSigned(String(headers.authorization ?? '')))
      return { status: 403, body: 'the signature does not fit' };
    let pushed: { title?: string; body?: string };
    try {
      pushed = JSON.parse(this.unseal(body)) as typeof pushed;
    } catch {
      return { status: 400, body: 'it cannot be opened' };
    }
    this.keep([pushed.title, pushed.body].filter(Boolean).join('\n'));
    return { status: 201, body: '', headers: { location: '/messages/1' } };
  }

  /** Opens one record (RFC 8188 section 2, RFC 8291 section 3.4). */
  private unseal(sealed: Buffer): string {
    const salt = sealed.subarray(0, 16);
    const length = sealed[20]!;
    const theirs = sealed.subarray(21, 21 + length);
    const rest = sealed.subarray(21 + length);
    const info = Buffer.concat([Buffer.from('WebPush: info\0'), this.keys.getPublicKey(), theirs]);
    const shared = hkdfSync('sha256', this.keys.computeSecret(theirs), this.auth, info, 32);
    const derive = (what: string, bytes: number) =>
      Buffer.from(
        hkdfSync('sha256', Buffer.from(shared), salt, Buffer.from(`Content-Encoding: ${what}\0`), bytes),
      );
    const decipher = createDecipheriv('aes-128-gcm', derive('aes128gcm', 16), derive('nonce', 12));
    decipher.setAuthTag(rest.subarray(-16));
    const padded = Buffer.concat([decipher.update(rest.subarray(0, -16)), decipher.final()]);
    // The last record ends with a 2 and zeros.
    return padded.subarray(0, padded.lastIndexOf(2)).toString('utf8');
  }
}

/** Whether an authorization holds a token that the key beside it signed, and that is not over (RFC 8292 section 2). */
function isSigned(authorization: string): boolean {
  const [, token = '', key = ''] = /^vapid t=([\w.-]+), ?k=([\w-]+)$/.exec(authorization) ?? [];
  const [head = '', claims = '', signature = ''] = token.split('.');
  const point = Buffer.from(key, 'base64url');
  if (point.length !== 65) return false;
  const publicKey = createPublicKey({
    format: 'jwk',
    key: {
      kty: 'EC',
      crv: 'P-256',
      x: point.subarray(1, 33).toString('base64url'),
      y: point.subarray(33).toString('base64url'),
    },
  });
  const options = { key: publicKey, dsaEncoding: 'ieee-p1363' as const };
  const fits = verify(
    'sha256',
    Buffer.from(`${head}.${claims}`),
    options,
    Buffer.from(signature, 'base64url'),
  );
  if (!fits) return false;
  const { exp = 0 } = JSON.parse(Buffer.from(claims, 'base64url').toString('utf8')) as { exp?: number };
  return exp * 1000 > Date.now();
}
