import { lookAtPort } from '@/probes/frame/look-at-port';
import * as f from '@/core/settings/fields';
import { object, string } from 'yup';
import { failingText, type Comparison } from '@/core/expect/compare';
import { formatDuration } from '@/core/time/duration';
import { jsonPathProblem } from '@/core/expect/json-path';
import { expectValue, parseJson, valuesIn } from '@/probes/transport/answer';
import { limitBytes, openConnection, secureConnection } from '@/probes/transport/connection';
import { expectedValue } from './database';
import { hostFields, signInFields, valueFields } from '@/probes/fields/host-fields';
import { checkedBy, type LookContext, type ProbeKind } from '@/probes/frame/kind';
import { type Run } from '@/probes/frame/run';
import * as s from '@/probes/fields/schema';
import { tlsSwitch, tlsShape, tlsWish, type TlsSettings } from '@/probes/fields/tls-wish';

export interface TopicPlace extends TlsSettings {
  host: string;
  port: number;
  tls: boolean;
  user: string;
  password: string;
  topic: string;
}

interface BrokerSettings extends TopicPlace {
  path: string;
  comparison: Comparison;
  value: string;
  mostAgeSeconds: number | null;
  timePath: string;
}

export const topicName = () =>
  string()
    .default('')
    .max(1000)
    .test('topic', function check(value) {
      const wrong = /[#+\0]/.test(value ?? '');
      const message = `Expected one topic without # and +, got “${value}”.`;
      return wrong ? this.createError({ message }) : true;
    })
    .meta({ description: 'The topic whose last value is read.' });

const MOST_MESSAGE = 256 * 1024;

const schema = object({
  host: s.host(),
  port: s.port(1883),
  tls: s.flag('Speaks TLS from the first byte.'),
  user: s.text('The account; empty for none.', 200),
  password: s.secret('Its password.'),
  topic: topicName(),
  path: s.textThat('A JSON path to the value in the message; empty for the whole message.', jsonPathProblem),
  comparison: s.comparison('How the value is compared.', 'is there'),
  value: expectedValue(),
  mostAgeSeconds: s.optionalNumber('The oldest the last value may be, in seconds.', 1, 30 * 86_400),
  timePath: s.textThat('A JSON path to the time in the message.', jsonPathProblem),
  ...tlsShape(),
});

export interface TopicMessage {
  text: string;
  /** Kept by the broker from before; when it was sent is not known. */
  retained: boolean;
}

export const loadMqtt = () => import('mqtt');

/** Connects, subscribes, and resolves to the first message: the kept one, or the next that comes. */
export async function fetchTopic(run: Run, place: TopicPlace): Promise<TopicMessage | null> {
  const { host, port, tls, user, password, topic } = place;
  const plain = await openConnection(run, { host, port });
  const wish = tlsWish(place, host);
  const socket = tls ? await secureConnection(run, plain, wish) : plain;
  const { default: mqtt } = await loadMqtt();
  const client = new mqtt.MqttClient(() => socket, {
    protocolVersion: 4,
    reconnectPeriod: 0,
    resubscribe: false,
    connectTimeout: run.leftMs,
    username: user || undefined,
    password: password || undefined,
    clientId: `calm-lantern-${Math.random().toString(36).slice(2, 12)}`,
  });
  const stop = () => void client.end(true);
  run.onEnd(stop);
  try {
    return await new Promise<TopicMessage | null>((resolve, reject) => {
      client.on('error', (error: Error & { code?: number | string }) => {
        // MQTT 3.1.1, table 3.1: 4 is a bad account or password, 5 not allowed.
        if (typeof error.code === 'number' || /refused/i.test(error.message)) {
          reject(run.failure('sign-in.refused', { said: error.message }));
        } else
          reject(
            error.code
              ? error
              : run.failure('reply.unexpected', { got: error.message, service: 'an MQTT broker' }),
          );
      });
      client.on('close', () => reject(run.failure('reply.cut-off')));
      client.on('connect', () => {
        limitBytes(run, socket);
        run.lap('firstByte', 'reply');
        if (topic === '') return resolve(null);
        run.whenTimeIsUp = () => ({
          cause: 'topic.silent',
          detail: { topic, limit: formatDuration(run.context.timeoutMs) },
        });
        client.subscribe(topic, { qos: 0 }, (error, granted) => {
          if (error || (granted?.[0]?.qos ?? 0) >= 128) {
            reject(
              run.failure('command.refused', {
                command: 'the subscription',
                said: error?.message ?? 'not allowed',
              }),
            );
          }
        });
      });
      client.on('message', (_, payload, packet) => {
        resolve({ text: payload.subarray(0, MOST_MESSAGE).toString('utf8'), retained: packet.retain });
      });
    });
  } finally {
    run.whenTimeIsUp = null;
    stop();
  }
}

/** The value in a message: the whole of it, or what is at a path. Throws a failure where there is none. */
export function valueIn(run: Run, text: string, path: string): unknown {
  if (path === '') return text;
  return valuesIn(run, path, parseJson(run, text))[0];
}

function momentOf(value: unknown): number | null {
  if (typeof value === 'number') return value < 1e11 ? value * 1000 : value;
  const at = typeof value === 'string' ? Date.parse(value) : Number.NaN;
  return Number.isNaN(at) ? null : at;
}

/**
 * When the value was sent: now for one that came live, by its own time where it has one, else by when this very
 * message was seen first. A broker does not say when it got what it keeps.
 */
function sentAt(run: Run, settings: BrokerSettings, { text, retained }: TopicMessage): number {
  const now = run.context.now();
  if (settings.timePath !== '') {
    const at = momentOf(valueIn(run, text, settings.timePath));
    if (at === null) run.fail('value.none', { what: settings.timePath });
    return at;
  }
  const { before } = run.context;
  const same = retained && before?.baseline === text.slice(0, 500);
  run.evidence.baseline = text.slice(0, 500);
  run.evidence.seenSince = same ? (before?.seenSince ?? now) : now;
  return run.evidence.seenSince;
}

function look(given: BrokerSettings, context: LookContext) {
  const settings = { ...broker.defaults, ...given };
  const { topic, path, mostAgeSeconds } = settings;
  return lookAtPort(
    context,
    settings,
    { tls: settings.tls, rungs: [['reply', 'sign-in'], topic ? ['content', 'topic'] : null] },
    async (run) => {
      const message = await fetchTopic(run, settings);
      if (message === null) return;
      run.fact('last value', message.text);
      const age = context.now() - sentAt(run, settings, message);
      if (mostAgeSeconds !== null && age > mostAgeSeconds * 1000) {
        const limit = formatDuration(mostAgeSeconds * 1000);
        run.fail('value.old', { what: topic, age: formatDuration(age), limit });
      }
      expectValue(run, valueIn(run, message.text, path), settings, { what: path || topic });
    },
  );
}

export const broker: ProbeKind<BrokerSettings> = {
  id: 'broker',
  title: 'broker (MQTT)',
  help: 'Connects to an MQTT broker and looks at the last value of a topic.',
  ...checkedBy<BrokerSettings>(schema),
  fields: [
    ...hostFields('broker.ternferry.test', '1883 or 8883'),
    f.text(
      'topic',
      'Topic',
      'Leave empty if a connection will do. The kept value counts, else the next one within the time.',
      { placeholder: 'pier/north/water-level' },
    ),
    ...signInFields('Sign-in'),
    f.text('path', 'Where in the message', 'A JSON path (RFC 9535); leave empty for the whole message.', {
      placeholder: '$.level',
      extra: 'The value',
    }),
    ...valueFields('The value', { extra: 'The value' }),
    f.number(
      'mostAgeSeconds',
      'No older than, in seconds',
      'A broker does not say how old a kept value is: without a time in the message, it counts from when we first saw that very message.',
      { extra: 'The value' },
    ),
    f.text(
      'timePath',
      'Time in the message',
      'A JSON path to an ISO 8601 time or to seconds or milliseconds since 1970.',
      { placeholder: '$.at', extra: 'The value' },
    ),
    ...tlsSwitch('Speaks TLS', 'From the first byte; its certificate is checked.'),
  ],
  hostOf: (settings) => settings.host,
  targetOf: ({ host, port, topic }) => `${host}:${port}${topic ? ` ${topic}` : ''}`,
  nameOf: ({ host, topic }) => topic || `${host} (MQTT)`,
  walkTo: ({ host, port, tls, servername }) => ({ host, port, tls, servername: servername || host }),
  verdictSentence: ({ topic, mostAgeSeconds, comparison, value }, timeoutMs) =>
    topic === ''
      ? `Fails when the broker does not accept us within ${formatDuration(timeoutMs)}.`
      : `Fails when nothing comes on ${topic} within ${formatDuration(timeoutMs)}` +
        `${mostAgeSeconds === null ? '' : `, when its value is older than ${formatDuration(mostAgeSeconds * 1000)}`}, or when it ${failingText(comparison, value)}.`,
  prepare: loadMqtt,
  look,
};
