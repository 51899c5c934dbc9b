import { createServer } from 'node:net';
import { listen, trackSockets } from './listener';
import { PracticeService, type Opened } from './service';

/** The booking cache: enough of a Redis server for PING, AUTH and GET (RESP, version 2). */
export class PracticeCache extends PracticeService {
  readonly modes = ['fine', 'stopped', 'wants a password', 'other value'] as const;

  override get address(): string {
    return `127.0.0.1:${this.port} (Redis)`;
  }

  protected async open(port: number): Promise<Opened> {
    const server = createServer((socket) => {
      let text = '';
      socket.on('error', () => socket.destroy());
      socket.on('data', (chunk) => {
        text += chunk.toString();
        for (;;) {
          const count = Number(/^\*(\d+)\r\n/.exec(text)?.[1] ?? -1);
          const pattern = new RegExp(
            `^\\*\\d+\\r\\n(?:\\$\\d+\\r\\n([^\\r\\n]*)\\r\\n){${Math.max(0, count)}}`,
          );
          const whole = count >= 0 ? pattern.exec(text)?.[0] : undefined;
          if (whole === undefined) return;
          text = text.slice(whole.length);
          const words = [...whole.matchAll(/\$\d+\r\n([^\r\n]*)\r\n/g)].map((match) => match[1]!);
          socket.write(this.answer(words));
        }
      });
    });
    const close = trackSockets(server);
    return { port: await listen(server, port), close };
  }

  private answer([command = '', key = '']: string[]): string {
    if (this.mode === 'wants a password' && command.toUpperCase() !== 'AUTH')
      return '-NOAUTH Authentication required.\r\n';
    switch (command.toUpperCase()) {
      case 'PING':
        return '+PONG\r\n';
      case 'AUTH':
        return '-WRONGPASS invalid username-password pair\r\n';
      case 'GET': {
        const value = this.mode === 'other value' ? '0' : '42';
        return key === 'seats:free' ? `$${value.length}\r\n${value}\r\n` : '$-1\r\n';
      }
      default:
        return '+OK\r\n';
    }
  }
}
