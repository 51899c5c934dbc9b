import { join } from 'node:path';
import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http';
import { PracticeBerths } from './berths';
import { PracticeBroker } from './broker';
import { PracticeCache } from './cache';
import { Elsewhere } from './elsewhere';
import { issueCertificate, type Authority } from './certificates';
import { PracticeContainers } from './containers';
import { PracticeCounter } from './counter';
import { PracticeGauge } from './gauge';
import { PracticeJob, type JobOptions } from './job';
import { PracticeKiosk } from './kiosk';
import { PracticeLedger } from './ledger';
import { listen, trackSockets } from './listener';
import { PracticeNames } from './names';
import { PracticePost } from './post';
import { BotRoom } from './rooms/bot-room';
import { AdaptiveRoom, CardRoom } from './rooms/card-room';
import { ChatRoom } from './rooms/chat-room';
import { EventRoom } from './rooms/event-room';
import { MatrixRoom } from './rooms/matrix-room';
import { PracticePhone } from './rooms/phone';
import { IrcRoom } from './rooms/served/irc-room';
import { LogRoom } from './rooms/served/log-room';
import { MailRoom } from './rooms/served/mail-room';
import type { ServedRoom } from './rooms/served/served-room';
import { XmppRoom } from './rooms/served/xmpp-room';
import type { PracticeRoom, RoomMode } from './rooms/practice-room';
import { harbourScreen, roomScreen } from './screens';
import { PracticeSite } from './site';
import type { StandIn } from './stand-in';

export interface HarbourOptions {
  /** The control port; the stand-ins take the ones after it. 0 lets the system choose all. */
  basePort: number;
  authority: Authority;
  jobs: JobOptions[];
  /** Where the container engine's socket and the log are made, and an XMPP server has its files; without it there are none. */
  folder?: string;
  /** Where the public page of the ferries begins, with a slash at its end. */
  statusPage?: string;
}

/** The account of the practice mail servers. */
export const PRACTICE_SIGN_IN = { user: 'office', password: 'the boats sail at dawn' };

/** Behind the stand-ins' ports come those of rooms that have one. */
const FIRST_ROOM = 15;
const MOST_BODY_BYTES = 200_000;

async function bodyOf(request: IncomingMessage): Promise<Buffer> {
  const chunks: Buffer[] = [];
  let bytes = 0;
  for await (const chunk of request) {
    chunks.push(chunk as Buffer);
    bytes += (chunk as Buffer).length;
    if (bytes > MOST_BODY_BYTES) throw new Error('too long');
  }
  return Buffer.concat(chunks);
}

/** The practice harbour: web sites, kiosks, jobs and a chat room, with a screen and an HTTP interface. */
export class Harbour {
  /** The crew room, which most messages go to. */
  readonly room = new ChatRoom();
  readonly phone = new PracticePhone();
  /** A place for each format messages go out in. */
  readonly rooms: readonly PracticeRoom[];
  private readonly server: Server;
  private readonly stopServer: () => Promise<void>;
  port = 0;

  private constructor(
    readonly standIns: readonly StandIn[],
    private readonly served: readonly ServedRoom[],
    private readonly elsewhere: Elsewhere | null,
  ) {
    this.rooms = [
      this.room,
      new CardRoom(),
      new AdaptiveRoom(),
      new BotRoom(),
      new MatrixRoom(),
      new EventRoom(),
      this.phone,
      ...served,
    ];
    this.server = createServer((request, response) => {
      this.answer(request, response).catch(() => {
        response.writeHead(500).end('fault\n');
      });
    });
    this.stopServer = trackSockets(this.server);
  }

  static async start({ basePort, authority, jobs, folder, statusPage }: HarbourOptions): Promise<Harbour> {
    const port = (n: number) => (basePort === 0 ? 0 : basePort + n);
    const names = ['rota.ternferry.test', 'mail.ternferry.test', '127.0.0.1'];
    const secure = {
      fine: await issueCertificate(authority, { names }),
      expired: await issueCertificate(authority, { names, fromDays: -90, toDays: -2 / 24 }),
    };
    const post = { secure, ...PRACTICE_SIGN_IN };
    const standIns = [
      new PracticeSite({
        id: 'booking',
        title: 'Booking site',
        words: 'Choose your crossing',
        port: port(1),
        statusPage,
      }),
      new PracticeSite({
        id: 'tides',
        title: 'Tide tables',
        words: 'High water at Tern Island',
        port: port(2),
      }),
      new PracticeSite({ id: 'rota', title: 'Crew rota', words: 'Who sails today', port: port(3), secure }),
      new PracticeKiosk('kiosk-north', 'Ticket kiosk, north pier', port(4)),
      new PracticeKiosk('kiosk-south', 'Ticket kiosk, south pier', port(5)),
      new PracticePost({ id: 'mail', title: 'Office mail (SMTP)', port: port(6), speaks: 'smtp', ...post }),
      new PracticeGauge('gauge', 'Tide gauge', port(7)),
      new PracticeNames('names', 'Name server', port(8)),
      new PracticePost({
        id: 'mailbox',
        title: 'Office mail (IMAP)',
        port: port(9),
        speaks: 'imap',
        ...post,
      }),
      new PracticeLedger('ledger', 'Booking ledger', port(10), { fine: '12', other: '180' }),
      new PracticeCache('cache', 'Booking cache', port(11)),
      new PracticeBroker('broker', 'Crew house broker', port(12)),
      new PracticeBerths('berths', 'Berths', port(13)),
      new PracticeCounter('counter', 'Booking desk', port(14)),
      ...(folder === undefined
        ? []
        : [new PracticeContainers('engine', 'Container engine', join(folder, 'containers.sock'))]),
      ...jobs.map((job) => new PracticeJob(job)),
    ];
    const served = [
      new MailRoom(),
      new IrcRoom(),
      ...(folder === undefined
        ? []
        : [new XmppRoom(join(folder, 'xmpp')), new LogRoom(join(folder, 'harbour.log'))]),
    ].filter(({ isThere }) => isThere);
    const harbour = new Harbour(
      standIns,
      served,
      folder === undefined ? null : new Elsewhere(join(folder, 'elsewhere')),
    );
    for (const standIn of standIns) await standIn.start();
    for (const [i, room] of served.entries()) await room.start(port(FIRST_ROOM + i));
    harbour.port = await listen(harbour.server, basePort);
    return harbour;
  }

  find(id: string): StandIn | undefined {
    return this.standIns.find((standIn) => standIn.id === id);
  }

  private async answer(request: IncomingMessage, response: ServerResponse): Promise<void> {
    const url = new URL(request.url ?? '/', 'http://harbour.test');
    const html = (text: string) =>
      response.writeHead(200, { 'content-type': 'text/html; charset=utf-8' }).end(text);
    const json = (status: number, value: unknown) =>
      response.writeHead(status, { 'content-type': 'application/json' }).end(JSON.stringify(value));
    const what = `${request.method} ${url.pathname}`;
    if (what === 'GET /') return void html(harbourScreen(this.standIns, this.rooms));
    // The crew room stands first, and at the door.
    const path = url.pathname.replace(/^\/room(?=\/|$)/, '/rooms/crew');
    const [, id, within = ''] = /^\/rooms\/([\w-]+)(\/.*)?$/.exec(path) ?? [];
    const room = this.rooms.find((one) => one.id === id);
    if (room) return this.answerRoom(room, `${within}${url.search}`, request, response);
    const away = /^\/elsewhere\/(.+)$/.exec(url.pathname)?.[1];
    if (away && this.elsewhere) return this.elsewhere.answer(request, response, away, () => bodyOf(request));
    if (what === 'GET /stand-ins') {
      return void json(
        200,
        this.standIns.map(({ id, title, address, modes, mode }) => ({ id, title, address, modes, mode })),
      );
    }
    const name = /^\/stand-ins\/([\w-]+)$/.exec(url.pathname)?.[1];
    const standIn = name ? this.find(name) : undefined;
    const mode = url.searchParams.get('mode') ?? '';
    if (request.method !== 'POST' || !standIn) return void json(404, { error: `nothing at ${what}` });
    if (!standIn.modes.includes(mode)) {
      return void json(400, {
        error: `expected mode to be one of ${standIn.modes.join(', ')}, got "${mode}"`,
      });
    }
    await standIn.setMode(mode);
    // The screen's own buttons go back to the screen; programs get the new state.
    if (request.headers.accept?.includes('text/html')) response.writeHead(303, { location: '/' }).end();
    else json(200, { id: name, mode });
  }

  /** A room: its screen, what arrived there, what it does with it, and its own door. */
  private async answerRoom(
    room: PracticeRoom,
    within: string,
    request: IncomingMessage,
    response: ServerResponse,
  ): Promise<void> {
    const { method = '', headers } = request;
    const asked = `${method} ${within.split('?', 1)[0]}`;
    const json = (status: number, value: unknown) =>
      response.writeHead(status, { 'content-type': 'application/json' }).end(JSON.stringify(value));
    if (asked === 'GET ') {
      response.writeHead(200, { 'content-type': 'text/html; charset=utf-8' }).end(roomScreen(room));
    } else if (asked === 'GET /messages') json(200, room.messages);
    else if (asked === 'GET /subscription' && room instanceof PracticePhone) {
      json(200, room.subscription(`http://${headers.host}/rooms/${room.id}`));
    } else if (asked === 'POST /write' && room.canBeListenedTo) {
      const body = await bodyOf(request);
      const typed = new URLSearchParams(body.toString('utf8'));
      room.write(typed.get('by') || 'somebody', typed.get('text') ?? '', typed.get('answers') ?? undefined);
      if (headers.accept?.includes('text/html'))
        response.writeHead(303, { location: `/rooms/${room.id}` }).end();
      else json(200, { id: room.id });
    } else if (asked === 'POST /mode') {
      const mode = new URLSearchParams(within.split('?')[1]).get('mode') ?? '';
      if (!room.modes.includes(mode as RoomMode)) {
        return void json(400, {
          error: `expected mode to be one of ${room.modes.join(', ')}, got "${mode}"`,
        });
      }
      await room.setMode(mode as RoomMode);
      if (headers.accept?.includes('text/html')) response.writeHead(303, { location: '/' }).end();
      else json(200, { id: room.id, mode });
    } else {
      const reply = room.take({ method, path: within, headers, body: await bodyOf(request) });
      const isText = typeof reply.body === 'string';
      response
        .writeHead(reply.status, {
          'content-type': isText ? 'text/plain' : 'application/json',
          ...reply.headers,
        })
        .end(isText ? (reply.body as string) : JSON.stringify(reply.body));
    }
  }

  async stop(): Promise<void> {
    for (const room of this.served) await room.stop();
    for (const standIn of this.standIns) await standIn.stop();
    await this.stopServer();
  }
}
