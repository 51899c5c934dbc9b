import { createServer, type Server } from 'node:net';
import { listen, trackSockets } from './listener';
import type { StandIn } from './stand-in';

/** A ticket kiosk: a port that greets whoever connects. */
export class PracticeKiosk implements StandIn {
  readonly modes = ['fine', 'stopped'] as const;
  mode = 'fine';
  private server: Server | null = null;
  private stopServer: () => Promise<void> = async () => undefined;

  constructor(
    readonly id: string,
    readonly title: string,
    public port: number,
  ) {}

  get address(): string {
    return `127.0.0.1 port ${this.port}`;
  }

  async start(): Promise<void> {
    if (this.server) return;
    this.server = createServer((socket) => {
      socket.on('error', () => socket.destroy());
      socket.end('KIOSK READY\r\n');
    });
    this.stopServer = trackSockets(this.server);
    this.port = await listen(this.server, this.port);
  }

  async setMode(mode: string): Promise<void> {
    this.mode = mode;
    if (mode === 'stopped') await this.stop();
    else await this.start();
  }

  async stop(): Promise<void> {
    this.server = null;
    await this.stopServer();
  }
}
