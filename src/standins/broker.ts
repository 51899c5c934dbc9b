import { createServer } from 'node:net';
import { Aedes } from 'aedes';
import { listen, trackSockets } from './listener';
import { PracticeService, type Opened } from './service';

/** The crew house's MQTT broker, with the room temperature kept on a topic. */
export class PracticeBroker extends PracticeService {
  readonly modes = ['fine', 'stopped', 'refuses sign-in', 'says nothing', 'too warm'] as const;

  override get address(): string {
    return `127.0.0.1:${this.port} (MQTT)`;
  }

  protected override needsRestart(): boolean {
    return true;
  }

  protected async open(port: number): Promise<Opened> {
    const aedes = await Aedes.createBroker();
    aedes.authenticate = (_, __, ___, done) => done(null, this.mode !== 'refuses sign-in');
    const server = createServer(aedes.handle);
    const closeSockets = trackSockets(server);
    const celsius = this.mode === 'too warm' ? 31.5 : 20.5;
    if (this.mode !== 'says nothing') {
      await new Promise<void>((resolve) =>
        aedes.publish(
          {
            cmd: 'publish',
            topic: 'crew-house/temperature',
            payload: JSON.stringify({ celsius }),
            qos: 0,
            retain: true,
            dup: false,
          },
          () => resolve(),
        ),
      );
    }
    return {
      port: await listen(server, port),
      close: async () => {
        await new Promise<void>((resolve) => aedes.close(() => resolve()));
        await closeSockets();
      },
    };
  }
}
