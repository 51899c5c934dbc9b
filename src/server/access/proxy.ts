import type { IncomingMessage } from 'node:http';
import ipaddr from 'ipaddr.js';

type Network = [ipaddr.IPv4 | ipaddr.IPv6, number];

/** Headers a client could use to pass as someone else. */
const FORWARDED = [
  'forwarded',
  'x-forwarded-for',
  'x-forwarded-host',
  'x-forwarded-proto',
  'x-forwarded-port',
];
export const CLIENT_HEADER = 'x-lantern-client';
/** Set by the front door where a request comes from this very machine. */
export const LOCAL_HEADER = 'x-lantern-local';

/** What proxies put on what they pass on, whatever they are. */
const SIGNS_OF_A_PROXY = [...FORWARDED, 'x-real-ip', 'via', 'x-forwarded-server', 'forwarded-for'];

/**
 * Whether somebody at this machine itself asks, and not a proxy on it for somebody else. Has to be asked before the
 * request is cleaned.
 */
export function comesFromHere({ socket, headers }: IncomingMessage): boolean {
  const peer = socket.remoteAddress;
  if (!peer || !ipaddr.isValid(peer) || ipaddr.process(peer).range() !== 'loopback') return false;
  return !SIGNS_OF_A_PROXY.some((name) => headers[name] !== undefined);
}

function networkOf(text: string): Network {
  try {
    if (text.includes('/')) return ipaddr.parseCIDR(text);
    const address = ipaddr.parse(text);
    return [address, address.kind() === 'ipv4' ? 32 : 128];
  } catch {
    throw new Error(
      `Expected addresses or networks such as 10.0.0.0/8 in LANTERN_TRUSTED_PROXY, got "${text}".`,
    );
  }
}

/** Honours forwarded headers (X-Forwarded-*) only where they come from a trusted proxy. */
export class ProxyTrust {
  private readonly networks: Network[];

  constructor(trusted: readonly string[]) {
    this.networks = trusted.map(networkOf);
  }

  isTrusted(address: string | undefined): boolean {
    if (!address || !ipaddr.isValid(address)) return false;
    const parsed = ipaddr.process(address);
    return this.networks.some(
      ([network, bits]) => parsed.kind() === network.kind() && parsed.match(network, bits),
    );
  }

  /**
   * Cleans a request in place and returns the client's address: the right-most forwarded one that is not a
   * trusted proxy itself, or the peer's.
   */
  clean(request: IncomingMessage): string {
    const peer = request.socket.remoteAddress ?? '';
    let client = peer;
    if (this.isTrusted(peer)) {
      const chain = String(request.headers['x-forwarded-for'] ?? '')
        .split(',')
        .map((part) => part.trim())
        .filter((part) => ipaddr.isValid(part));
      for (let hop = chain.pop(); hop; hop = chain.pop()) {
        client = hop;
        if (!this.isTrusted(hop)) break;
      }
    } else {
      for (const name of FORWARDED) delete request.headers[name];
    }
    request.headers[CLIENT_HEADER] = client;
    return client;
  }
}
