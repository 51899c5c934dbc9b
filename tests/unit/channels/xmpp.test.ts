import { createServer, type AddressInfo, type Server, type Socket } from 'node:net';
import { afterEach, describe, expect, it } from 'vitest';
import { xmpp, type XmppSettings } from '@/channels/kinds/xmpp';
import { outgoing } from './outgoing';

const HEADER = `<?xml version='1.0'?><stream:stream xmlns='jabber:client' xmlns:stream='http://etherx.jabber.org/streams' id='1' from='ternferry.test' version='1.0'>`;

describe('an XMPP server that sends without end', () => {
  let server: Server;
  const sockets = new Set<Socket>();
  afterEach(() => {
    for (const socket of sockets) socket.destroy();
    server.close();
  });

  it('is left after a megabyte or so', async () => {
    let sent = 0;
    server = createServer((socket) => {
      sockets.add(socket);
      socket.on('error', () => undefined);
      socket.once('data', () => {
        socket.write(`${HEADER}<message><body>`);
        const piece = 'x'.repeat(64_000);
        const more = () => {
          while (!socket.destroyed && sent < 50_000_000) {
            sent += piece.length;
            if (!socket.write(piece)) return void socket.once('drain', more);
          }
        };
        more();
      });
    });
    await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
    const settings = xmpp.schema.validateSync({
      account: 'lantern@ternferry.test',
      password: 'tide',
      to: 'crew@rooms.ternferry.test',
      host: '127.0.0.1',
      port: (server.address() as AddressInfo).port,
      plain: true,
    }) as XmppSettings;
    const answer = await xmpp.send(settings, outgoing(), new AbortController().signal);
    expect(answer).toMatchObject({ ok: false, retry: true, said: 'No connection: it was closed' });
    // What the two systems hold between them comes on top.
    expect(sent).toBeLessThan(20_000_000);
  });
});
