import { createSocket } from 'node:dgram';
import { bindDatagrams } from './listener';
import { PracticeService, type Opened } from './service';

/** The tide gauge: a UDP port that tells the water level. */
export class PracticeGauge extends PracticeService {
  readonly modes = ['fine', 'stopped', 'silent', 'out of range'] as const;

  override get address(): string {
    return `127.0.0.1 UDP port ${this.port}`;
  }

  protected async open(port: number): Promise<Opened> {
    const socket = createSocket('udp4');
    socket.on('message', (_, from) => {
      if (this.mode === 'silent') return;
      socket.send(this.mode === 'fine' ? 'LEVEL 214 cm' : 'SENSOR FAULT', from.port, from.address);
    });
    return bindDatagrams(socket, port);
  }
}
