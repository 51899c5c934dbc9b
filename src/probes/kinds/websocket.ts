import { lookAtPort } from '@/probes/frame/look-at-port';
import * as f from '@/core/settings/fields';
import { secretHeadersField } from '@/probes/fields/host-fields';
import { isIP } from 'node:net';
import { object, string } from 'yup';
import WebSocket from 'ws';
import { formatDuration } from '@/core/time/duration';
import { openConnection, secureConnection } from '@/probes/transport/connection';
import { hostOf, portOf } from '@/probes/transport/http-hop';
import { checkedBy, type LookContext, type ProbeKind } from '@/probes/frame/kind';
import * as s from '@/probes/fields/schema';
import { LookFailure, type Failure } from '@/probes/frame/socket-cause';
import { tlsFields, tlsShape, tlsWish, type TlsSettings } from '@/probes/fields/tls-wish';
import { headerLinesProblem, headersOf } from '@/core/settings/header-lines';

interface WebSocketSettings extends TlsSettings {
  address: string;
  secretHeaders: string;
  send: string;
  expect: string;
}

function wholeAddress(typed: string): string | null {
  try {
    const url = new URL(/^[a-z]+:\/\//i.test(typed.trim()) ? typed.trim() : `wss://${typed.trim()}`);
    return ['ws:', 'wss:'].includes(url.protocol) && url.hostname !== '' ? url.href : null;
  } catch {
    return null;
  }
}

const schema = object({
  address: string()
    .required('Expected an address such as wss://berths.ternferry.test/live, got nothing.')
    .max(2000)
    .transform((value: unknown) => (typeof value === 'string' ? (wholeAddress(value) ?? value) : value))
    .test(
      'websocket-address',
      ({ value }) => `Expected an address such as wss://berths.ternferry.test/live, got “${String(value)}”.`,
      (value) => wholeAddress(value ?? '') !== null,
    )
    .test('sign-in', s.noSignIn('Put them into a secret header, as Authorization: Basic …'))
    .meta({ description: 'The address; ws or wss.' }),
  secretHeaders: s.secret('Headers to send with the handshake, one “Name: value” a line.'),
  send: s.text('A message to send once connected.', 10_000),
  expect: s.text('Text a message that comes back must hold.', 1000),
  ...tlsShape(),
});

const MOST_MESSAGE = 1_000_000;

function answerFailure(port: number, last: string, expected: string, timeoutMs: number): Failure {
  return last === ''
    ? { cause: 'answer.none', detail: { port, limit: formatDuration(timeoutMs) } }
    : { cause: 'answer.differs', detail: { port, got: last.slice(0, 120), expected: `“${expected}”` } };
}

function look(given: WebSocketSettings, context: LookContext) {
  const settings = { ...websocket.defaults, ...given };
  const url = new URL(settings.address.replace(/^ws/, 'http'));
  const secure = url.protocol === 'https:';
  const [host, port] = [hostOf(url), portOf(url)];
  return lookAtPort(
    context,
    { host, port },
    { tls: secure, rungs: [['reply', 'handshake'], settings.expect ? ['content', 'answer'] : null] },
    async (run) => {
      const wrong = headerLinesProblem(settings.secretHeaders);
      if (wrong) run.fail('look.broken', { reason: wrong });
      let socket = await openConnection(run, { host, port });
      if (secure) {
        const wish = tlsWish(settings, host);
        socket = await secureConnection(run, socket, { ...wish, alpn: ['http/1.1'] });
      }
      const client = new WebSocket(settings.address, {
        // The connection is already there; the library only speaks on it.
        createConnection: () => socket as never,
        perMessageDeflate: false,
        followRedirects: false,
        maxPayload: MOST_MESSAGE,
        headers: { 'user-agent': 'CalmLantern', ...headersOf(settings.secretHeaders) },
        ...(isIP(host) ? {} : { servername: host }),
      });
      let last = '';
      await new Promise<void>((resolve, reject) => {
        run.onEnd(() => client.terminate());
        client.on('unexpected-response', (_, response) => {
          run.evidence.status = response.statusCode;
          reject(
            new LookFailure({ cause: 'reply.no-upgrade', detail: { status: response.statusCode ?? 0 } }),
          );
          client.terminate();
        });
        client.on('error', (error: NodeJS.ErrnoException) =>
          reject(error.code ? error : Object.assign(error, { code: 'HPE_INVALID' })),
        );
        client.on('open', () => {
          run.lap('firstByte', 'reply');
          run.evidence.status = 101;
          if (settings.send !== '') client.send(settings.send);
          if (settings.expect === '') resolve();
          else run.whenTimeIsUp = () => answerFailure(port, last, settings.expect, context.timeoutMs);
        });
        client.on('message', (data) => {
          last = String(data as Buffer);
          if (settings.expect !== '' && last.includes(settings.expect)) resolve();
        });
        client.on('close', () => {
          reject(Object.assign(new Error('closed'), { code: 'ECONNRESET' }));
        });
      });
      client.close(1000);
    },
  );
}

export const websocket: ProbeKind<WebSocketSettings> = {
  id: 'websocket',
  title: 'WebSocket',
  help: 'Opens a WebSocket, sends a message where you like, and waits for the answer.',
  ...checkedBy<WebSocketSettings>(schema),
  fields: [
    f.text('address', 'Address', 'Begins with ws:// or wss://.', {
      placeholder: 'wss://berths.ternferry.test/live',
    }),
    f.area('send', 'Message to send', 'Leave empty to send nothing.'),
    f.text('expect', 'This must come back', 'Leave empty if an open WebSocket will do.'),
    secretHeadersField('One “Name: value” a line, for the handshake.', { extra: 'What is sent' }),
    ...tlsFields(),
  ],
  hostOf: (settings) => new URL(settings.address).hostname,
  targetOf: (settings) => settings.address,
  nameOf: (settings) => `${new URL(settings.address).hostname} (WebSocket)`,
  walkTo: (settings) => {
    const url = new URL(settings.address.replace(/^ws/, 'http'));
    const host = hostOf(url);
    const tls = url.protocol === 'https:';
    return { host, port: portOf(url), tls, servername: settings.servername || host };
  },
  verdictSentence: ({ expect }, timeoutMs) =>
    `Fails when the WebSocket does not open within ${formatDuration(timeoutMs)}${expect ? `, or when no message with “${expect}” comes back` : ''}.`,
  look,
};
