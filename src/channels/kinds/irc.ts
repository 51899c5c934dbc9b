import { boolean, string } from 'yup';
import { inPieces, withoutCalls } from '@/core/messages/safe-text';
import { signOf, toneOf } from '@/core/messages/tone';
import * as f from '@/core/settings/fields';
import {
  authority,
  authorityField,
  host,
  listens,
  listensField,
  needed,
  port,
  settingsOf,
} from '@/channels/frame/fields';
import { IrcConnection, type IrcMessage, type IrcPlace } from '@/channels/transport/irc-connection';
import type { Answer, AroundLine, ChannelKind, Line, Outgoing } from '@/channels/frame/kind';
import { allLines } from '@/channels/frame/all-lines';
import { sendOnce, StayingLine } from '@/channels/frame/lines';

export interface IrcSettings extends IrcPlace {
  room: string;
  key: string;
  listens: boolean;
}

/** A line has 512 bytes with everything; what the server puts before it and the target take their part. */
const MOST_TEXT_BYTES = 380;
const MOST_LINES = 12;

/** Why a room could not be entered or written to (RFC 2812 section 5.2). */
const REFUSALS: Record<string, string> = {
  '401': 'There is nobody of that name',
  '403': 'There is no such room',
  '404': 'We may not write into that room',
  '405': 'We are in too many rooms',
  '471': 'The room is full',
  '473': 'The room takes only whom it invited',
  '474': 'The room does not let us in',
  '475': 'The key of the room is wrong',
  '476': 'That is no name of a room',
  '477': 'The room takes only those who are signed in',
  '489': 'The room takes only encrypted connections',
};
/** Those that another try may mend. */
const PASSING = new Set(['401', '405', '471']);

class IrcRefusal extends Error {
  constructor(
    readonly code: string,
    said: string,
  ) {
    super(`${REFUSALS[code]}: ${said}`);
  }
}

const isRoom = (name: string) => /^[#&!+]/.test(name);
const same = (a: string, b: string) => a.toLowerCase() === b.toLowerCase();

/** A message as lines of a room: what would be bold or coloured by its bytes is text, and nobody is called. */
function linesOf(message: Outgoing): string[] {
  const { title, link, event } = message;
  const pieces = [`${signOf(toneOf(event))} ${title}`, ...allLines(message), link].flatMap((line) =>
    inPieces(withoutCalls(line), MOST_TEXT_BYTES),
  );
  return pieces.length <= MOST_LINES ? pieces : [...pieces.slice(0, MOST_LINES - 1), link];
}

/** A room that was joined, and what was refused there since it was last asked. */
interface Room {
  connection: IrcConnection;
  joined: boolean;
  refusal: IrcRefusal | null;
}

/** Joins a room and stays. */
class IrcLine extends StayingLine<Room> {
  constructor(
    private readonly settings: IrcSettings,
    private readonly around?: AroundLine,
  ) {
    super([settings.password, settings.accountPassword, settings.key], around);
  }

  protected async open(onLost: () => void): Promise<Room> {
    const connection = await IrcConnection.open(this.settings);
    const room: Room = { connection, joined: false, refusal: null };
    connection.onMessage = (message) => this.hear(room, message);
    connection.onClose = onLost;
    try {
      await this.join(room);
      return room;
    } catch (error) {
      await connection.close();
      throw error;
    }
  }

  private async join(there: Room): Promise<void> {
    const { room, key } = this.settings;
    const { connection } = there;
    if (!isRoom(room) || there.joined) return;
    const heard = connection.answer(({ command, from, params }) => {
      if (REFUSALS[command] && params.some((one) => same(one, room)))
        throw new IrcRefusal(command, params.at(-1) ?? '');
      return command === 'JOIN' && same(from.split('!')[0]!, connection.nick) && same(params[0] ?? '', room);
    }, 'The room did not let us in');
    await Promise.all([heard, connection.send(key === '' ? `JOIN ${room}` : `JOIN ${room} ${key}`)]);
    there.joined = true;
  }

  private hear(there: Room, { command, params, from }: IrcMessage): void {
    const { room } = this.settings;
    const by = from.split('!')[0]!;
    // From the room, or from the one person it talks to.
    const isHere = isRoom(room) ? same(params[0] ?? '', room) : same(by, room);
    if (command === 'PRIVMSG' && isHere) this.around?.onHeard({ by, text: params.at(-1) ?? '', to: null });
    const isUs = same(params[1] ?? '', there.connection.nick);
    if (command === 'KICK' && same(params[0] ?? '', room) && isUs) there.joined = false;
    if (REFUSALS[command] && params.some((one) => same(one, room))) {
      there.refusal = new IrcRefusal(command, params.at(-1) ?? '');
    }
  }

  protected async say(there: Room, message: Outgoing, signal: AbortSignal): Promise<Answer> {
    const { room } = this.settings;
    await this.join(there);
    there.refusal = null;
    for (const line of linesOf(message)) await there.connection.send(`PRIVMSG ${room} :${line}`, signal);
    await there.connection.settle();
    const refusal = there.refusal as IrcRefusal | null;
    if (refusal) throw refusal;
    return { ok: true, retry: false, said: isRoom(room) ? 'said in the room' : 'said' };
  }

  protected async sayText({ connection }: Room, text: string, signal: AbortSignal): Promise<void> {
    for (const line of inPieces(withoutCalls(text), MOST_TEXT_BYTES))
      await connection.send(`PRIVMSG ${this.settings.room} :${line}`, signal);
  }

  protected isLasting(error: unknown): boolean {
    return error instanceof IrcRefusal && !PASSING.has(error.code);
  }

  protected leave({ connection }: Room): Promise<void> {
    return connection.close();
  }
}

const connect = (settings: IrcSettings, around?: AroundLine): Line => new IrcLine(settings, around);
const NAME = /^[A-Za-z[\]\\`_^{|}][\w[\]\\`^{|}-]{0,29}$/;
const noSpaces = /^[^\s:][^\s]*$|^$/;

export const irc: ChannelKind<IrcSettings> = {
  id: 'irc',
  title: 'IRC room',
  help: 'A room, or one person, on any IRC server. It joins and stays, and says no more than a server bears.',
  schema: settingsOf<IrcSettings>({
    host: host('the name or address of the server'),
    port: port(6697, 'Mostly 6697 with TLS, 6667 without.'),
    tls: boolean().default(true).meta({ description: 'Speaks TLS from the first byte.' }),
    room: needed('a room such as #crew, or a name', 60)
      .matches(
        /^(?:[#&!+][^\s,\x07]+|[^\s,:#&!+]+)$/,
        'Expected a room such as #crew, or the name of somebody.',
      )
      .meta({ description: 'The room, or the name of somebody.' }),
    key: string()
      .default('')
      .max(60)
      .matches(noSpaces, 'Expected a key without spaces.')
      .meta({ description: 'The key of the room, where it asks for one.' }),
    nick: string()
      .trim()
      .default('lantern')
      .matches(NAME, 'Expected a name of up to 30 letters and digits that begins with a letter.')
      .meta({ description: 'The name it goes by there.' }),
    password: string().default('').max(200).meta({ description: 'The password of the server.' }),
    account: string()
      .trim()
      .default('')
      .max(100)
      .matches(noSpaces, 'Expected an account without spaces.')
      .meta({ description: 'The account it signs in to (SASL); empty for none.' }),
    accountPassword: string()
      .default('')
      .max(300)
      .test(
        'private',
        'Expected no password of an account without TLS: it would be readable on its way.',
        function isPrivate(value) {
          return !value || (this.parent as IrcSettings).tls;
        },
      )
      .meta({ description: 'The password of the account.' }),
    authority: authority(),
    listens: listens(),
  }),
  fields: [
    f.text('host', 'Server', 'Its name or address.', { placeholder: 'irc.ternferry.test' }),
    f.number('port', 'Port', 'Mostly 6697 with TLS, 6667 without.', { placeholder: '6697' }),
    f.toggle('tls', 'TLS', 'Speak TLS from the first byte.'),
    f.text('room', 'Room', 'A room such as #crew, or the name of one person.', { placeholder: '#crew' }),
    f.secret('key', 'Key of the room', 'Only where the room asks for one.'),
    f.text('nick', 'Name', 'What it is called there.', { placeholder: 'lantern' }),
    listensField(),
    f.secret('password', 'Password of the server', 'Only where the server asks for one.', {
      extra: 'Signing in',
    }),
    f.text('account', 'Account', 'Signed in to by SASL, where the network has accounts.', {
      extra: 'Signing in',
    }),
    f.secret('accountPassword', 'Password of the account', 'Kept secret and not shown again.', {
      extra: 'Signing in',
    }),
    authorityField(),
  ],
  shown: ({ room, host: at }) => `${room}, by ${at}`,
  send: (settings, message, signal) => sendOnce(connect(settings), message, signal),
  connect,
  listens: true,
};
