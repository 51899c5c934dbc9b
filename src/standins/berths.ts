import { createServer } from 'node:http';
import { WebSocketServer } from 'ws';
import { listen, trackSockets } from './listener';
import { PracticeService, type Opened } from './service';

/** Which berth each boat lies at, told over a WebSocket. */
export class PracticeBerths extends PracticeService {
  readonly modes = ['fine', 'stopped', 'plain page', 'says nothing', 'no boats'] as const;

  override get address(): string {
    return `ws://127.0.0.1:${this.port}/live`;
  }

  protected async open(port: number): Promise<Opened> {
    const server = createServer((_, response) => response.end('<h1>Berths</h1>'));
    const sockets = new WebSocketServer({ noServer: true });
    server.on('upgrade', (request, socket, head) => {
      if (this.mode === 'plain page') {
        socket.end('HTTP/1.1 404 Not Found\r\ncontent-length: 0\r\nconnection: close\r\n\r\n');
        return;
      }
      sockets.handleUpgrade(request, socket, head, (client) => {
        client.on('message', () => {
          if (this.mode === 'says nothing') return;
          client.send(
            JSON.stringify(this.mode === 'no boats' ? { berths: [] } : { berths: ['Tern', 'Gannet'] }),
          );
        });
      });
    });
    const close = trackSockets(server);
    return { port: await listen(server, port), close };
  }
}
