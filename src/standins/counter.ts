import { createServer, type IncomingMessage, type ServerResponse } from 'node:http';
import { listen, trackSockets } from './listener';
import { PracticeService, type Opened } from './service';

async function bodyOf(request: IncomingMessage): Promise<string> {
  let body = '';
  for await (const chunk of request) body += String(chunk);
  return body;
}

/** The booking desk: sign in, ask for a crossing, book it; and how many wait in the queue. */
export class PracticeCounter extends PracticeService {
  readonly modes = ['fine', 'stopped', 'sign-in broken', 'sold out', 'long queue'] as const;

  override get address(): string {
    return `http://127.0.0.1:${this.port}/`;
  }

  protected async open(port: number): Promise<Opened> {
    const server = createServer((request, response) => {
      this.answer(request, response).catch(() => response.writeHead(500).end());
    });
    const close = trackSockets(server);
    return { port: await listen(server, port), close };
  }

  private async answer(request: IncomingMessage, response: ServerResponse): Promise<void> {
    const json = (status: number, value: unknown, headers: Record<string, string> = {}) =>
      response
        .writeHead(status, { 'content-type': 'application/json', ...headers })
        .end(JSON.stringify(value));
    const signedIn = /session=tern-\w+/.test(request.headers.cookie ?? '');
    switch (`${request.method} ${request.url?.split('?')[0]}`) {
      case 'GET /':
        return void response.end('<form><input name="ticket" value="form-7731"></form>');
      case 'POST /sign-in': {
        const body = await bodyOf(request);
        const right = body.includes('the boats sail at dawn') && body.includes('form-7731');
        if (!right || this.mode === 'sign-in broken')
          return void json(401, { error: 'wrong name or password' });
        return void response
          .writeHead(303, { location: '/crossings', 'set-cookie': 'session=tern-1; Path=/; HttpOnly' })
          .end();
      }
      case 'GET /crossings':
        if (!signedIn) return void json(403, { error: 'sign in first' });
        return void json(200, { crossings: this.mode === 'sold out' ? [] : [{ id: 'c-0815', free: 42 }] });
      case 'POST /book':
        if (!signedIn) return void json(403, { error: 'sign in first' });
        return void json(201, {
          booked: (JSON.parse(await bodyOf(request)) as { crossing: string }).crossing,
        });
      case 'GET /queue':
        return void json(200, { waiting: this.mode === 'long queue' ? 180 : 12, unit: 'people' });
      default:
        return void json(404, { error: 'nothing here' });
    }
  }
}
