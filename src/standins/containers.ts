import { rmSync } from 'node:fs';
import { createServer } from 'node:http';
import { PracticeService, type Opened } from './service';

/** A container engine's API on a Unix socket, with one container: booking-web. */
export class PracticeContainers extends PracticeService {
  readonly modes = ['fine', 'stopped', 'exited', 'unhealthy', 'container gone'] as const;

  constructor(
    id: string,
    title: string,
    readonly socketPath: string,
  ) {
    super(id, title, 0);
  }

  override get address(): string {
    return this.socketPath;
  }

  protected async open(): Promise<Opened> {
    rmSync(this.socketPath, { force: true });
    const server = createServer((request, response) => {
      const known = request.url === '/containers/booking-web/json' && this.mode !== 'container gone';
      const state =
        this.mode === 'exited'
          ? { Status: 'exited', ExitCode: 137, StartedAt: '2026-11-01T06:00:00Z' }
          : {
              Status: 'running',
              ExitCode: 0,
              StartedAt: '2026-11-01T06:00:00Z',
              Health: { Status: this.mode === 'unhealthy' ? 'unhealthy' : 'healthy' },
            };
      response.writeHead(known ? 200 : 404, { 'content-type': 'application/json', connection: 'close' });
      response.end(
        JSON.stringify(known ? { Name: '/booking-web', State: state } : { message: 'no such container' }),
      );
    });
    await new Promise<void>((resolve, reject) => {
      server.once('error', reject);
      server.listen(this.socketPath, resolve);
    });
    return { port: 0, close: () => new Promise((resolve) => server.close(() => resolve())) };
  }
}
