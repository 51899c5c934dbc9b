import { createServer, type Server, type Socket } from 'node:net';
import { listen, trackSockets } from '@/standins/listener';
import { ServedRoom } from './served-room';

const ROOM = '#crew';
const SERVER = 'irc.ternferry.test';
const MOST_LINE = 4096;

interface Guest {
  socket: Socket;
  nick: string;
  isIn: boolean;
}

/** A room on a small IRC server (RFC 2812): one room, no passwords. */
export class IrcRoom extends ServedRoom {
  override readonly canBeListenedTo = true;
  private readonly guests = new Set<Guest>();
  private readonly server: Server;
  private readonly stopServer: () => Promise<void>;
  private port = 0;

  constructor() {
    super('irc', 'Crew room on IRC', 'IRC');
    this.server = createServer((socket) => this.welcome(socket));
    this.stopServer = trackSockets(this.server);
  }

  get how(): string {
    return `Server 127.0.0.1, port ${this.port}, without TLS, room ${ROOM}.`;
  }

  async start(port: number): Promise<void> {
    this.port = await listen(this.server, port);
  }

  stop(): Promise<void> {
    return this.stopServer();
  }

  override write(by: string, text: string): void {
    super.write(by, text);
    const nick = by.replace(/[^\w-]/g, '') || 'guest';
    this.tellAll(`:${nick}!${nick}@${SERVER} PRIVMSG ${ROOM} :${text.replace(/[\r\n]+/g, ' ')}`);
  }

  private tellAll(line: string, but?: Guest): void {
    for (const guest of this.guests) if (guest.isIn && guest !== but) guest.socket.write(`${line}\r\n`);
  }

  private welcome(socket: Socket): void {
    const guest: Guest = { socket, nick: '', isIn: false };
    this.guests.add(guest);
    let rest = '';
    socket.on('error', () => socket.destroy());
    socket.on('close', () => this.guests.delete(guest));
    socket.on('data', (chunk) => {
      const lines = (rest + chunk.toString('utf8')).split(/\r?\n/);
      rest = lines.pop()!.slice(0, MOST_LINE);
      for (const line of lines) this.hearLine(guest, line);
    });
  }

  private hearLine(guest: Guest, line: string): void {
    const { socket } = guest;
    const say = (text: string) => socket.write(`:${SERVER} ${text}\r\n`);
    const [, command = '', params = ''] = /^(?::\S+ )?(\S+) ?(.*)$/.exec(line) ?? [];
    const [first = ''] = params.split(' ');
    const trailing = /(?:^| ):(.*)$/.exec(params)?.[1] ?? '';
    switch (command.toUpperCase()) {
      case 'CAP':
        if (first === 'LS') say('CAP * LS :');
        return;
      case 'NICK':
        guest.nick = first.replace(/^:/, '');
        return;
      case 'USER':
        if (this.mode === 'busy') return void socket.end(`ERROR :Closing link: the server is full\r\n`);
        say(`001 ${guest.nick} :Welcome to the practice harbour`);
        say(`422 ${guest.nick} :There is no message of the day`);
        return;
      case 'PING':
        return void socket.write(`:${SERVER} PONG ${SERVER} ${params}\r\n`);
      case 'JOIN':
        if (this.mode === 'refusing') return void say(`474 ${guest.nick} ${first} :Cannot join channel (+b)`);
        if (first !== ROOM) return void say(`403 ${guest.nick} ${first} :No such channel`);
        guest.isIn = true;
        this.tellAll(`:${guest.nick}!${guest.nick}@${SERVER} JOIN ${ROOM}`);
        say(`353 ${guest.nick} = ${ROOM} :${guest.nick}`);
        say(`366 ${guest.nick} ${ROOM} :End of /NAMES list.`);
        return;
      case 'PRIVMSG':
        return this.said(guest, first, trailing);
      case 'QUIT':
        socket.end();
    }
  }

  private said(guest: Guest, to: string, text: string): void {
    const { nick, socket } = guest;
    if (this.mode === 'busy' || this.mode === 'too fast')
      return void socket.end('ERROR :Closing link: Excess Flood\r\n');
    if (to !== ROOM || !guest.isIn || this.mode === 'refusing')
      return void socket.write(`:${SERVER} 404 ${nick} ${to} :Cannot send to channel\r\n`);
    this.keep(text);
    this.tellAll(`:${nick}!${nick}@${SERVER} PRIVMSG ${ROOM} :${text}`, guest);
  }
}
