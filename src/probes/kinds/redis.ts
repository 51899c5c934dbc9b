import { lookAtPort } from '@/probes/frame/look-at-port';
import * as f from '@/core/settings/fields';
import { expectValue } from '@/probes/transport/answer';
import type { RedisOptions } from 'ioredis';
import { object } from 'yup';
import { failingText, type Comparison } from '@/core/expect/compare';
import { formatDuration } from '@/core/time/duration';
import { limitBytes, openConnection, secureConnection } from '@/probes/transport/connection';
import { expectedValue } from './database';
import { hostFields, signInFields, valueFields } from '@/probes/fields/host-fields';
import { checkedBy, type LookContext, type ProbeKind } from '@/probes/frame/kind';
import * as s from '@/probes/fields/schema';
import { tlsSwitch, tlsShape, tlsWish, type TlsSettings } from '@/probes/fields/tls-wish';

interface RedisSettings extends TlsSettings {
  host: string;
  port: number;
  tls: boolean;
  user: string;
  password: string;
  key: string;
  comparison: Comparison;
  value: string;
}

const schema = object({
  host: s.host(),
  port: s.port(6379),
  tls: s.flag('Speaks TLS from the first byte.'),
  user: s.text('The account; empty for the default one.', 100),
  password: s.secret('Its password.'),
  key: s.text('A key whose value is read; empty for PING alone.', 500),
  comparison: s.comparison('How its value is compared.', 'is there'),
  value: expectedValue(),
  ...tlsShape(),
});

const loadRedis = () => import('ioredis');

function look(given: RedisSettings, context: LookContext) {
  const settings = { ...redis.defaults, ...given };
  const { host, port, key } = settings;
  return lookAtPort(
    context,
    settings,
    { tls: settings.tls, rungs: [['reply', 'PING'], key ? ['content', 'value'] : null] },
    async (run) => {
      const plain = await openConnection(run, { host, port });
      const wish = tlsWish(settings, host);
      const socket = settings.tls ? await secureConnection(run, plain, wish) : plain;
      // The connection is already there; the library only speaks on it.
      class Ready {
        connecting = true;
        check = () => true;
        disconnect = () => void socket.destroy();
        connect = async () => socket;
      }
      const options: RedisOptions = {
        lazyConnect: true,
        retryStrategy: () => null,
        maxRetriesPerRequest: 0,
        enableReadyCheck: false,
        enableOfflineQueue: false,
        username: settings.user || undefined,
        password: settings.password || undefined,
        Connector: Ready as never,
      };
      const { Redis } = await loadRedis();
      const client = new Redis(options);
      let said: Error | null = null;
      client.on('error', (error: Error) => (said = error));
      run.onEnd(() => client.disconnect());
      const ask = async <T>(what: string, asking: Promise<T>): Promise<T> => {
        try {
          return await asking;
        } catch (error) {
          const reason = (said ?? (error as Error)).message;
          if (/WRONGPASS|NOAUTH|NOPERM|invalid (username|password)/i.test(reason)) {
            run.fail('sign-in.refused', { said: reason });
          }
          if (/^[A-Z]+ /.test(reason)) run.fail('command.refused', { command: what, said: reason });
          if (/Protocol error/i.test(reason)) {
            run.fail('reply.unexpected', { got: reason.slice(0, 100), service: 'a Redis server' });
          }
          return run.fail('reply.cut-off');
        }
      };
      await ask('AUTH', client.connect());
      limitBytes(run, socket);
      const pong = await ask('PING', client.ping());
      if (pong !== 'PONG') run.fail('reply.unexpected', { got: String(pong), service: 'a Redis server' });
      run.lap('firstByte', 'reply');
      if (key !== '') {
        const got = (await ask('GET', client.get(key))) ?? undefined;
        if (got !== undefined) run.fact(key, got);
        expectValue(run, got, settings, { what: key });
      }
      client.disconnect();
    },
  );
}

export const redis: ProbeKind<RedisSettings> = {
  id: 'redis',
  title: 'Redis',
  help: 'Sends PING, and reads a key where you like.',
  ...checkedBy<RedisSettings>(schema),
  fields: [
    ...hostFields('cache.ternferry.test', '6379'),
    ...signInFields(),
    f.text('key', 'Key to read', 'Leave empty for PING alone.', { extra: 'A value' }),
    ...valueFields('Its value', { extra: 'A value' }),
    ...tlsSwitch('Speaks TLS', 'From the first byte; its certificate is checked.'),
  ],
  hostOf: (settings) => settings.host,
  targetOf: ({ host, port }) => `${host}:${port}`,
  nameOf: ({ host }) => `${host} (Redis)`,
  walkTo: ({ host, port, tls, servername }) => ({ host, port, tls, servername: servername || host }),
  verdictSentence: ({ key, comparison, value }, timeoutMs) =>
    `Fails when PING is not answered within ${formatDuration(timeoutMs)}${key ? `, or when ${key} ${failingText(comparison, value)}` : ''}.`,
  prepare: loadRedis,
  look,
};
