import type { Client, Element } from '@xmpp/client';
import { boolean, string } from 'yup';
import { signOf, toneOf } from '@/core/messages/tone';
import * as f from '@/core/settings/fields';
import {
  authority,
  authorityField,
  listens,
  listensField,
  needed,
  port,
  settingsOf,
} from '@/channels/frame/fields';
import type { Answer, AroundLine, ChannelKind, Line, Outgoing } from '@/channels/frame/kind';
import { allLines } from '@/channels/frame/all-lines';
import { sendOnce, StayingLine } from '@/channels/frame/lines';
import { inWords, refusalIn, XmppRefusal } from '@/channels/transport/xmpp-refusal';
import { boundBytes, encryptBy, withoutResuming } from '@/channels/transport/xmpp-stream';

export interface XmppSettings {
  account: string;
  password: string;
  host: string;
  port: number;
  plain: boolean;
  authority: string;
  listens: boolean;
  room: boolean;
  to: string;
}

const TIMEOUT_MS = 10_000;
/** So long after a connection was lost it may still be said why. */
const SAYS_WHY_MS = 300;
const NICK = 'lantern';
/** How long an answer that somebody is not there may take after the server took the message. */
const ERROR_MS = 300;
/** Addresses do not tell large letters from small ones. */
const isSame = (a: string, b: string) => a.toLowerCase() === b.toLowerCase();
const MUC = 'http://jabber.org/protocol/muc';

interface There {
  client: Client;
  xml: typeof import('@xmpp/client').xml;
  joined: boolean;
}

/** Signs in, enters the room, and stays. */
class XmppLine extends StayingLine<There> {
  constructor(
    private readonly settings: XmppSettings,
    private readonly around?: AroundLine,
  ) {
    super([settings.password], around);
  }

  protected async open(onLost: () => void): Promise<There> {
    const { client: make, xml } = await import('@xmpp/client');
    const { account, password, host, port: at, plain } = this.settings;
    const [username = '', domain = ''] = account.split('@');
    const service = `xmpp://${host === '' ? domain : host}:${at}`;
    const client = make({ service, domain, username, password, resource: NICK, timeout: TIMEOUT_MS });
    // Coming back is ours: less and less often.
    client.reconnect.stop();
    let problem: unknown = null;
    client.on('error', (error: unknown) => {
      problem = error;
    });
    boundBytes(client);
    client.prependListener('element', withoutResuming);
    if (this.settings.authority !== '') await encryptBy(client, this.settings.authority);
    try {
      await inTime(Promise.race([client.start(), lossOf(client)]));
      if (!plain && !client.isSecure()) throw new Error('No connection: the server does not encrypt it');
    } catch (error) {
      await client.stop().catch(() => undefined);
      throw error instanceof Error && error.message.startsWith('No connection')
        ? error
        : inWords(problem ?? error);
    }
    client.on('disconnect', onLost);
    const there = { client, xml, joined: false };
    if (this.settings.listens && this.around) await this.overhear(there, this.around);
    return there;
  }

  /** Hears what is written in the room from now on, or by the one person it talks to. */
  private async overhear(there: There, { onHeard }: AroundLine): Promise<void> {
    const { client, xml } = there;
    const { to, room } = this.settings;
    client.on('stanza', (stanza: Element) => {
      const { from = '', type } = stanza.attrs;
      const text = stanza.name === 'message' ? stanza.getChildText('body') : null;
      const [address = '', name = ''] = from.split('/');
      const isHere = room ? type === 'groupchat' && name !== '' && name !== NICK : type === 'chat';
      // What was said before we came is not said to us (XEP-0203).
      if (text === null || !isHere || !isSame(address, to) || stanza.getChild('delay', 'urn:xmpp:delay'))
        return;
      onHeard({ by: room ? name : address.split('@')[0]!, text, to: null });
    });
    if (room) await this.join(there);
    // Only to those who are there a server hands on what is written to a person (RFC 6121 section 8.5.2).
    else await client.send(xml('presence'));
  }

  /** Enters the room (XEP-0045 section 7.2); the history of the room is not asked for. */
  private async join(there: There): Promise<void> {
    const { client, xml } = there;
    const { to, room } = this.settings;
    if (!room || there.joined) return;
    const heard = this.stanza(client, (stanza) => {
      const { name, attrs } = stanza;
      if (name !== 'presence' || !attrs.from?.startsWith(`${to}/`)) return false;
      const refusal = refusalIn(stanza);
      if (refusal) throw refusal;
      const codes = stanza.getChild('x', `${MUC}#user`)?.getChildren('status') ?? [];
      return codes.some((status) => status.attrs.code === '110');
    });
    const history = xml('history', { maxstanzas: '0' });
    await Promise.all([
      heard,
      client.send(xml('presence', { to: `${to}/${NICK}` }, xml('x', { xmlns: MUC }, history))),
    ]);
    there.joined = true;
  }

  protected async say(there: There, message: Outgoing): Promise<Answer> {
    const { client, xml } = there;
    const { to, room } = this.settings;
    await this.join(there);
    const { title, link, event, id } = message;
    const text = [`${signOf(toneOf(event))} ${title}`, ...allLines(message), link].join('\n');
    const stanza = xml('message', { to, type: room ? 'groupchat' : 'chat', id }, xml('body', {}, text));
    const answered = this.stanza(client, (answer) => {
      const { name, attrs } = answer;
      if (name !== 'message' || attrs.id !== id) return false;
      const refusal = refusalIn(answer);
      if (refusal) {
        there.joined = false;
        throw refusal;
      }
      return room;
    });
    await client.send(stanza);
    if (room) {
      // A room says to everybody, and so to us, what it took.
      await answered;
      return { ok: true, retry: false, said: 'said in the room' };
    }
    await Promise.race([answered, this.settled(there)]);
    return { ok: true, retry: false, said: 'the server took it' };
  }

  /** The server answers in order: what it refuses of what came before, it says before that (XEP-0199). */
  private async settled({ client, xml }: There): Promise<void> {
    await client.iqCaller
      .request(xml('iq', { type: 'get' }, xml('ping', { xmlns: 'urn:xmpp:ping' })), TIMEOUT_MS)
      // A server that knows no pings has answered too.
      .catch(() => undefined);
    await new Promise((resolve) => setTimeout(resolve, ERROR_MS));
  }

  /** Resolves at the first stanza that `take` takes; what it throws is passed on. */
  private stanza(client: Client, take: (stanza: Element) => boolean): Promise<void> {
    const ends: (() => void)[] = [];
    const heard = new Promise<void>((resolve, reject) => {
      const listen = (stanza: Element) => {
        try {
          if (take(stanza)) resolve();
        } catch (error) {
          reject(error as Error);
        }
      };
      const lost = () => reject(new Error('No connection: it was closed'));
      client.on('stanza', listen);
      client.on('disconnect', lost);
      ends.push(() => client.off('stanza', listen).off('disconnect', lost));
    });
    return inTime(heard, 'The server did not answer').finally(() => ends.forEach((end) => end()));
  }

  protected async sayText({ client, xml }: There, text: string): Promise<void> {
    const { to, room } = this.settings;
    await client.send(xml('message', { to, type: room ? 'groupchat' : 'chat' }, xml('body', {}, text)));
  }

  protected isLasting(error: unknown): boolean {
    return error instanceof XmppRefusal && error.isLasting;
  }

  protected async leave({ client }: There): Promise<void> {
    await client.stop();
  }
}

/** Rejects once a connection is lost, which starting does not notice; why, where it does, goes before. */
function lossOf(client: Client): Promise<never> {
  return new Promise((_, reject) => {
    const lost = () => setTimeout(reject, SAYS_WHY_MS, new Error('No connection: it was closed'));
    client.once('disconnect', lost);
  });
}

async function inTime<T>(work: Promise<T>, what = 'No connection'): Promise<T> {
  let timer: NodeJS.Timeout | undefined;
  const over = new Promise<never>((_, reject) => {
    timer = setTimeout(() => reject(new Error(`${what}: not within ${TIMEOUT_MS / 1000} s`)), TIMEOUT_MS);
  });
  try {
    return await Promise.race([work, over]);
  } finally {
    clearTimeout(timer);
  }
}

const connect = (settings: XmppSettings, around?: AroundLine): Line => new XmppLine(settings, around);
const ADDRESS = /^[^\s@/<>"&']+@[^\s@/<>"&':]+$/;

export const xmpp: ChannelKind<XmppSettings> = {
  id: 'xmpp',
  title: 'XMPP room or person',
  help: 'A room, or one person, on any XMPP server, by an account of its own. It enters the room and stays.',
  schema: settingsOf<XmppSettings>({
    account: needed('an account such as lantern@ternferry.test')
      .matches(ADDRESS, 'Expected an account such as lantern@ternferry.test.')
      .meta({ description: 'The account it signs in to.' }),
    password: string().required('Expected the password of the account, got nothing.').max(500).meta({
      description: 'The password of the account.',
    }),
    to: needed('an address such as crew@rooms.ternferry.test')
      .matches(ADDRESS, 'Expected an address such as crew@rooms.ternferry.test.')
      .meta({ description: 'The address of the room or the person.' }),
    room: boolean().default(true).meta({ description: 'Whether that is a room, which is entered first.' }),
    host: string()
      .trim()
      .default('')
      .matches(/^[^\s/:@]*$/, 'Expected the name of a server and nothing else.')
      .meta({ description: 'The server, where it is another than the account’s address says.' }),
    port: port(5222, 'Mostly 5222.'),
    plain: boolean().default(false).meta({
      description:
        'Goes on where the server does not encrypt the connection; passwords are never sent in the clear.',
    }),
    authority: authority(),
    listens: listens(),
  }),
  fields: [
    f.text('account', 'Account', 'The one it signs in to.', { placeholder: 'lantern@ternferry.test' }),
    f.secret('password', 'Password', 'Kept secret and not shown again.'),
    f.text('to', 'Room or person', 'Its address.', { placeholder: 'crew@rooms.ternferry.test' }),
    f.toggle('room', 'It is a room', 'A room is entered before anything is said in it.'),
    listensField(),
    f.text('host', 'Server', 'Only where it is another than the account says.', { extra: 'Connection' }),
    f.number('port', 'Port', 'Mostly 5222.', { placeholder: '5222', extra: 'Connection' }),
    f.toggle(
      'plain',
      'Without encryption too',
      'Where the server is on this machine, say. Passwords never go in the clear.',
      {
        extra: 'Connection',
      },
    ),
    authorityField(),
  ],
  shown: ({ to, account }) => `${to}, as ${account}`,
  send: (settings, message, signal) => sendOnce(connect(settings), message, signal),
  connect,
  listens: true,
};
