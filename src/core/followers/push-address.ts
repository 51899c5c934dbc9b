/** What a browser says of where it is pushed to (W3C Push API, RFC 8291). */
export interface PushSubscription {
  endpoint: string;
  /** Its public key, and a secret shared with it; base64url. */
  p256dh: string;
  auth: string;
}

const MOST_ENDPOINT = 1000;
/** Names that lead into the network we stand in, and nowhere else. */
const NEAR_NAME = /(?:^|\.)(?:localhost|local|internal|intranet|lan|home|corp|home\.arpa)$/i;

/**
 * Where a browser of a stranger is pushed to, as it is kept; null for what is no push service of the open web. The name is
 * looked at here, and what it stands for when it is spoken to.
 */
export function readPushAddress(text: string, { near }: { near: boolean }): string | null {
  if (text.length > MOST_ENDPOINT || !URL.canParse(text)) return null;
  const { protocol, hostname, username, password, port, href } = new URL(text);
  if (username !== '' || password !== '') return null;
  if (near) return protocol === 'http:' || protocol === 'https:' ? href : null;
  const isAddress = /^[\d.]+$|^\[/.test(hostname);
  const fits = protocol === 'https:' && port === '' && hostname.includes('.') && !isAddress;
  return fits && !NEAR_NAME.test(hostname) ? href : null;
}
