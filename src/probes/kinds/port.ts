import { lookAtPort } from '@/probes/frame/look-at-port';
import * as f from '@/core/settings/fields';
import { object } from 'yup';
import { formatDuration } from '@/core/time/duration';
import { Conversation, openConnection, secureConnection } from '@/probes/transport/connection';
import { hostFields } from '@/probes/fields/host-fields';
import { checkedBy, type LookContext, type ProbeKind } from '@/probes/frame/kind';
import { type Run } from '@/probes/frame/run';
import * as s from '@/probes/fields/schema';
import { excerptText } from '@/probes/frame/excerpt';
import { LookFailure, type Failure } from '@/probes/frame/socket-cause';
import { tlsSwitch, tlsShape, tlsWish, type TlsSettings } from '@/probes/fields/tls-wish';

interface PortSettings extends TlsSettings {
  host: string;
  port: number;
  tls: boolean;
  send: string;
  expect: string;
}

const MOST_ANSWER = 4096;

const schema = object({
  host: s.host(),
  port: s.port(),
  tls: s.flag('Speaks TLS from the first byte.'),
  send: s.text('Text to send once connected; \\r, \\n and \\t stand for line ends and tabs.', 4000),
  expect: s.text('Text that must come back.', 1000),
  ...tlsShape(),
});

/** `\r`, `\n`, `\t`, `\\` and `\xNN` as the bytes they stand for. */
export function bytesOf(typed: string): Buffer {
  const named: Record<string, string> = { r: '\r', n: '\n', t: '\t', '\\': '\\' };
  const parts = typed.split(/(\\x[0-9a-f]{2}|\\[rnt\\])/i);
  return Buffer.concat(
    parts.map((part) => {
      if (/^\\x/i.test(part)) return Buffer.from([parseInt(part.slice(2), 16)]);
      return Buffer.from(/^\\[rnt\\]$/.test(part) ? named[part[1]!]! : part);
    }),
  );
}

/** Reads until the expected text is there; says what came instead. */
async function expectText(run: Run, talk: Conversation, expected: string): Promise<void> {
  const { port } = run.target;
  const wanted = bytesOf(expected);
  let seen: Buffer = Buffer.alloc(0);
  const failure = (): Failure => {
    if (seen.length === 0) {
      return { cause: 'answer.none', detail: { port, limit: formatDuration(run.context.timeoutMs) } };
    }
    const text = seen.toString('utf8');
    run.evidence.excerpt = { body: excerptText(seen, text) };
    const got = text.replace(/\s+/g, ' ').trim().slice(0, 120);
    return { cause: 'answer.differs', detail: { port, got, expected: `“${expected}”` } };
  };
  run.whenTimeIsUp = failure;
  const found = await talk.take((bytes, ended) => {
    seen = bytes.subarray(0, MOST_ANSWER);
    const there = bytes.includes(wanted);
    return there || ended || bytes.length >= MOST_ANSWER ? { used: bytes.length, value: there } : null;
  });
  if (!found) throw new LookFailure(failure());
}

/** Opens a TCP connection; where asked, goes over to TLS, sends a text and waits for the answer. */
function look(given: PortSettings, context: LookContext) {
  const settings = { ...port.defaults, ...given };
  return lookAtPort(
    context,
    settings,
    { tls: settings.tls, rungs: [settings.expect ? ['content', 'answer'] : null] },
    async (run) => {
      let socket = await openConnection(run, settings);
      if (settings.tls) {
        socket = await secureConnection(
          run,
          socket,
          tlsWish(settings, settings.host, { soonDays: 21, urgentDays: 5 }),
        );
      }
      if (settings.send === '' && settings.expect === '') return;
      const talk = new Conversation(run, socket);
      if (settings.send !== '') talk.send(bytesOf(settings.send));
      if (settings.expect !== '') await expectText(run, talk, settings.expect);
      run.lap('firstByte', 'reply');
    },
  );
}

export const port: ProbeKind<PortSettings> = {
  id: 'port',
  title: 'port',
  help: 'Opens a TCP connection, for anything that listens: a kiosk, a printer, a server of its own kind.',
  ...checkedBy<PortSettings>(schema),
  fields: [
    ...hostFields('kiosk-north.ternferry.test', '9100'),
    f.text('send', 'Text to send', 'Leave empty to send nothing; \\r\\n stands for the end of a line.', {
      placeholder: 'STATUS\\r\\n',
      extra: 'What is said',
    }),
    f.text('expect', 'This must come back', 'Leave empty if an open port will do.', {
      placeholder: 'READY',
      extra: 'What is said',
    }),
    ...tlsSwitch('Speaks TLS', 'From the first byte, as HTTPS does; its certificate is checked.'),
  ],
  hostOf: (settings) => settings.host,
  targetOf: (settings) => `${settings.host} port ${settings.port}`,
  nameOf: (settings) => `${settings.host}:${settings.port}`,
  walkTo: ({ host, port: number, tls, servername }) => ({
    host,
    port: number,
    tls,
    servername: servername || host,
  }),
  verdictSentence: ({ port: number, expect, tls, skipVerify }, timeoutMs) =>
    `Fails when port ${number} does not accept a connection within ${formatDuration(timeoutMs)}` +
    `${tls && !skipVerify ? ', when its certificate is not valid' : ''}` +
    `${expect ? `, or when “${expect}” does not come back` : ''}.`,
  look,
};
