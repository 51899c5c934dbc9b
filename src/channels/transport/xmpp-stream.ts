import type { Client, Element } from '@xmpp/client';
import { trusting } from '@/outside/authority';

/** More in one piece is nothing a server has to tell us. */
const MOST_BYTES = 1_000_000;
const TLS_NS = 'urn:ietf:params:xml:ns:xmpp-tls';
/** What the offer of encryption goes by while it is ours to take. */
const OURS = 'own-starttls';

/**
 * Takes the offer of stream management (XEP-0198) out of what a server offers: the library counts what came in a way that
 * servers end the connection for. What is said is known to have arrived by the room saying it to us.
 */
export function withoutResuming(element: Element): void {
  if (element.name === 'stream:features' || element.name === 'features') strip(element);
}

function strip(element: Element): void {
  element.children = element.children.filter((child) => typeof child === 'string' || child.name !== 'sm');
  for (const child of element.children) if (typeof child !== 'string') strip(child);
}

/**
 * Encrypts the connection (RFC 6120 section 5) by an authority of one's own, which the library has no setting for: its
 * offer is renamed, so that the library leaves it alone, and all else that was offered waits for the next stream.
 */
export async function encryptBy(client: Client, authority: string): Promise<void> {
  const { upgrade } = await import('@xmpp/starttls/starttls.js');
  client.prependListener('element', (element: Element) => {
    const offer = element.getChild('starttls', TLS_NS);
    if (!offer || client.isSecure()) return;
    offer.name = OURS;
    element.children = [offer];
  });
  client.streamFeatures.use(OURS, TLS_NS, async ({ entity }) => {
    const { xml } = await import('@xmpp/client');
    const said = await entity.sendReceive(xml('starttls', { xmlns: TLS_NS }));
    if (said.name !== 'proceed')
      throw new Error('No connection: the server offers encryption and refuses it');
    const { domain } = entity.options;
    entity._attachSocket(await upgrade(entity.socket!, { host: domain, ...trusting(authority) }));
    await entity.restart();
  });
}

/** A server that sends without end is left, before and after the connection is encrypted. */
export function boundBytes(client: Client): void {
  const bounded = new WeakSet<object>();
  let bytes = 0;
  client.on('element', () => (bytes = 0));
  const bound = () => {
    const { socket } = client;
    if (!socket || bounded.has(socket)) return;
    bounded.add(socket);
    socket.on('data', (data: Buffer) => {
      bytes += data.length;
      // An encrypted one is wrapped.
      if (bytes > MOST_BYTES) (socket.socket ?? socket).destroy();
    });
  };
  client.on('connect', bound);
  client.on('open', bound);
}
