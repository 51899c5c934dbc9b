import type { Socket as DatagramSocket } from 'node:dgram';
import type { AddressInfo, Server, Socket } from 'node:net';

/** Listens on loopback and resolves to the port. */
export function listen(server: Server, port: number): Promise<number> {
  return new Promise((resolve, reject) => {
    server.once('error', reject);
    server.listen(port, '127.0.0.1', () => {
      server.off('error', reject);
      resolve((server.address() as AddressInfo).port);
    });
  });
}

/** Binds a UDP socket on loopback; resolves to the port, and what closes it again. */
export async function bindDatagrams(socket: DatagramSocket, port: number) {
  await new Promise<void>((resolve, reject) => {
    socket.once('error', reject);
    socket.bind(port, '127.0.0.1', resolve);
  });
  return {
    port: socket.address().port,
    close: () => new Promise<void>((resolve) => socket.close(() => resolve())),
  };
}

/** Remembers open connections, so that a server can be stopped at once, as a crash would. */
export function trackSockets(server: Server): () => Promise<void> {
  const sockets = new Set<Socket>();
  server.on('connection', (socket: Socket) => {
    sockets.add(socket);
    socket.on('close', () => sockets.delete(socket));
  });
  return () =>
    new Promise((resolve) => {
      for (const socket of sockets) socket.destroy();
      if (server.listening) server.close(() => resolve());
      else resolve();
    });
}
