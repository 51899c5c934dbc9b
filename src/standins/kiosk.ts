import { createServer } from 'node:net';
import { listen, trackSockets } from './listener';
import { PracticeService, type Opened } from './service';

/** A ticket kiosk: a port that greets whoever connects, and answers STATUS. */
export class PracticeKiosk extends PracticeService {
  readonly modes = ['fine', 'stopped', 'out of paper'] as const;

  override get address(): string {
    return `127.0.0.1 port ${this.port}`;
  }

  protected async open(port: number): Promise<Opened> {
    const server = createServer((socket) => {
      socket.on('error', () => socket.destroy());
      socket.write('KIOSK READY\r\n');
      socket.once('data', () => socket.end(this.mode === 'fine' ? 'PAPER 80%\r\n' : 'PAPER EMPTY\r\n'));
    });
    const close = trackSockets(server);
    return { port: await listen(server, port), close };
  }
}
