import { Agent, request as ask, type IncomingMessage, type ServerResponse } from 'node:http';
import { connect, type Socket } from 'node:net';
import { pipeline } from 'node:stream';
import { sayAway } from './away';
import type { DeskSupervisor } from './supervisor';

/** However many ask at once; who asks beyond that is told to come back. */
const MOST_AT_ONCE = 1_000;
/** So long the first page after a start is waited for. */
const FIRST_WAIT_MS = 20_000;
/** What an open page asks for by itself waits, rather than being told that nobody is there. */
const BACKGROUND_WAIT_MS = 45_000;
/** Between two machines these say how a connection goes on; from here to the desk it goes on by its own. */
const OF_THE_CONNECTION = ['connection', 'keep-alive', 'proxy-connection', 'upgrade', 'expect', 'te'];

/** Whether a page that is open asks, and not somebody who goes to another one. */
function isInBackground({ method, headers }: IncomingMessage): boolean {
  return method === 'GET' && headers['rsc'] !== undefined;
}

/** Hands requests for pages and the API on to the desk, and says in plain words where there is none. */
export class DeskProxy {
  private readonly agent = new Agent({ keepAlive: true });
  private underWay = 0;

  constructor(
    private readonly desk: Pick<DeskSupervisor, 'socket' | 'isFirst' | 'opened'>,
    private readonly mostAtOnce = MOST_AT_ONCE,
  ) {}

  /** Resolves once the request is answered, or nobody waits for that any more. */
  async pass(request: IncomingMessage, response: ServerResponse): Promise<void> {
    if (this.underWay >= this.mostAtOnce) return sayAway(request, response, { busy: true });
    this.underWay += 1;
    try {
      await this.passNow(request, response);
    } finally {
      this.underWay -= 1;
    }
  }

  private async passNow(request: IncomingMessage, response: ServerResponse): Promise<void> {
    const background = isInBackground(request);
    if (background) await this.desk.opened(BACKGROUND_WAIT_MS);
    else if (this.desk.isFirst) await this.desk.opened(FIRST_WAIT_MS);
    const sent = await this.tryOnce(request, response);
    if (sent === 'answered' || response.destroyed) return;
    if (background && sent === 'lost') {
      // Whatever it was that the desk died of, a page that only asks anew loses nothing by asking again.
      await this.desk.opened(BACKGROUND_WAIT_MS);
      if ((await this.tryOnce(request, response)) === 'answered') return;
    }
    sayAway(request, response, { mayBeDone: sent === 'lost' });
  }

  /** `away`: nobody was there to ask. `lost`: the desk ended without an answer. */
  private tryOnce(request: IncomingMessage, response: ServerResponse): Promise<'answered' | 'away' | 'lost'> {
    const { socket } = this.desk;
    if (socket === null) return Promise.resolve('away');
    const headers = { ...request.headers };
    for (const name of OF_THE_CONNECTION) delete headers[name];
    return new Promise((resolve) => {
      const { method, url } = request;
      const asking = ask({ socketPath: socket, agent: this.agent, method, path: url, headers });
      const leave = () => asking.destroy();
      response.once('close', leave);
      const end = (how: 'answered' | 'away' | 'lost') => {
        response.off('close', leave);
        resolve(how);
      };
      asking.once('response', (answer) => {
        for (const [name, value] of Object.entries(answer.headers)) {
          if (value !== undefined && name !== 'connection' && name !== 'keep-alive') {
            response.setHeader(name, value);
          }
        }
        response.writeHead(answer.statusCode ?? 502);
        // Which of the two broke off does not matter: the other one is let go of with it.
        pipeline(answer, response, () => end('answered'));
      });
      asking.once('error', (error: NodeJS.ErrnoException) => {
        if (response.headersSent) return end('answered');
        end(error.code === 'ECONNREFUSED' || error.code === 'ENOENT' ? 'away' : 'lost');
      });
      request.once('aborted', leave);
      request.pipe(asking);
    });
  }

  /** Hands a connection on that is to become another kind; only whoever works on the pages has such. */
  upgrade(request: IncomingMessage, client: Socket, head: Buffer): void {
    const { socket } = this.desk;
    if (socket === null) return void client.destroy();
    const desk = connect(socket, () => {
      const lines = [`${request.method} ${request.url} HTTP/1.1`];
      for (let i = 0; i < request.rawHeaders.length; i += 2) {
        lines.push(`${request.rawHeaders[i]}: ${request.rawHeaders[i + 1]}`);
      }
      desk.write(`${lines.join('\r\n')}\r\n\r\n`);
      desk.write(head);
      client.pipe(desk).pipe(client);
    });
    desk.on('error', () => client.destroy()).on('close', () => client.destroy());
    client.on('error', () => desk.destroy()).on('close', () => desk.destroy());
  }

  close(): void {
    this.agent.destroy();
  }
}
