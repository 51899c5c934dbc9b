import { randomBytes } from 'node:crypto';
import { setTimeout as sleep } from 'node:timers/promises';
import type { MqttClient } from 'mqtt';
import { boolean, string } from 'yup';
import * as f from '@/core/settings/fields';
import { Blanker } from '@/core/text/secret-forms';
import { cloudEventOf } from '@/channels/frame/cloud-event';
import { authority, authorityField, host, port, settingsOf } from '@/channels/frame/fields';
import type { Answer, AroundLine, ChannelKind, Line, MirroredState, Outgoing } from '@/channels/frame/kind';
import { sendOnce, within } from '@/channels/frame/lines';
import { trusting } from '@/outside/authority';

export interface MqttSettings {
  host: string;
  port: number;
  tls: boolean;
  user: string;
  password: string;
  topic: string;
  authority: string;
}

const CONNECT_MS = 15_000;
const SEND_MS = 20_000;
const KEEP_ALIVE_SECONDS = 60;
const LONGEST_PAUSE_MS = 60_000;
const LEAVE_MS = 1_000;
const MOST_ANSWER = 300;

/** How what is to be found by whoever comes later is published. */
const KEPT = { qos: 1 as const, retain: true };
/** Whether what stands there is kept up to date; the broker says that it is not when we are gone (the will). */
const [HERE, GONE] = ['yes', 'no'];

/** Why a broker refused a connection (MQTT 3.1.1 table 3.1; 5.0 section 3.2.2.2). */
const WHY: Record<number, string> = {
  4: 'The broker refused the account or its password',
  5: 'The broker does not let this account in',
  134: 'The broker refused the account or its password',
  135: 'The broker does not let this account in',
};

/** Speaks MQTT with a broker and stays connected; what is published counts once the broker has it (QoS 1). */
class MqttLine implements Line {
  private client: MqttClient | null = null;
  private readonly blanker: Blanker;
  private problem: string | null = null;

  constructor(
    private readonly settings: MqttSettings,
    /** Left out where one message is sent and no more. */
    private readonly around?: AroundLine,
  ) {
    this.blanker = new Blanker([settings.password]);
  }

  private async connected(): Promise<MqttClient> {
    if (this.client) return this.client;
    const { default: mqtt } = await import('mqtt');
    const { host: at, port: by, tls, user, password } = this.settings;
    const client = mqtt.connect({
      protocol: tls ? 'mqtts' : 'mqtt',
      host: at,
      port: by,
      ...(user !== '' && { username: user, password }),
      ...trusting(this.settings.authority),
      clientId: `calm-lantern-${randomBytes(5).toString('hex')}`,
      connectTimeout: CONNECT_MS,
      keepalive: KEEP_ALIVE_SECONDS,
      reconnectPeriod: 5_000,
      // What could not be handed over is kept by us, not twice.
      queueQoSZero: false,
      resubscribe: false,
      ...(this.around && { will: { topic: this.alive, payload: Buffer.from(GONE), ...KEPT } }),
    });
    client.on('error', (error: Error & { code?: number | string }) => {
      const why = typeof error.code === 'number' ? WHY[error.code] : undefined;
      this.problem = this.blanker.text(
        why ? `${why}: ${error.message}` : error.message || String(error.code ?? 'no connection'),
      );
      // Between two tries the waits grow, so that a broker that is away is not called all the time.
      client.options.reconnectPeriod = Math.min(
        LONGEST_PAUSE_MS,
        (client.options.reconnectPeriod ?? 5_000) * 2,
      );
    });
    client.on('connect', () => {
      this.problem = null;
      client.options.reconnectPeriod = 5_000;
      this.around?.onOpen();
    });
    this.client = client;
    return client;
  }

  private get alive(): string {
    return `${this.settings.topic}/alive`;
  }

  /** Resolves once the client is connected; to why it is not, where that comes first. */
  private async refusalOf(client: MqttClient): Promise<string | null> {
    if (client.connected) return null;
    return new Promise<string | null>((resolve) => {
      const done = (why: string | null) => {
        client.off('connect', open).off('close', shut);
        resolve(why);
      };
      const open = () => done(null);
      const shut = () => done(this.problem ?? 'the broker ended the connection');
      client.once('connect', open).once('close', shut);
    });
  }

  private async publish(client: MqttClient, message: Outgoing): Promise<Answer> {
    const { topic } = this.settings;
    const json = { contentType: 'application/json' };
    const options = { qos: 1 as const, properties: json };
    const packet = await client.publishAsync(
      `${topic}/messages`,
      JSON.stringify(cloudEventOf(message)),
      options,
    );
    const code = (packet as { reasonCode?: number } | undefined)?.reasonCode ?? 0;
    return { ok: true, retry: false, said: code === 16 ? 'taken; nobody listens there' : 'taken' };
  }

  async send(message: Outgoing, signal: AbortSignal): Promise<Answer> {
    const client = await this.connected();
    const attempt = (async (): Promise<Answer> => {
      const refused = await this.refusalOf(client);
      if (refused !== null)
        return { ok: false, retry: true, said: `No connection: ${refused}`.slice(0, MOST_ANSWER) };
      return this.publish(client, message);
    })().catch((error: unknown): Answer => {
      const said = this.blanker.text((error as Error).message).slice(0, MOST_ANSWER);
      // MQTT 5.0 section 4.13: a topic this account may not write to.
      const lasting = /not authori[sz]ed/i.test(said);
      return {
        ok: false,
        retry: !lasting,
        said: lasting ? `This account may not write there: ${said}` : said,
      };
    });
    return within(SEND_MS, signal, attempt, `The broker did not take it within ${SEND_MS / 1000} s`);
  }

  /** Each watch under a topic of its own, retained; what is gone is taken away (MQTT 3.1.1 section 3.3.1.3). */
  async mirror(states: readonly MirroredState[], signal: AbortSignal): Promise<string | null> {
    const client = await this.connected();
    const done = async (): Promise<Answer> => {
      const refused = await this.refusalOf(client);
      if (refused !== null) return { ok: false, retry: true, said: refused };
      await Promise.all([
        client.publishAsync(this.alive, HERE, KEPT),
        ...states.map(({ id, as }) =>
          client.publishAsync(`${this.settings.topic}/watches/${id}`, as ? JSON.stringify(as) : '', KEPT),
        ),
      ]);
      return { ok: true, retry: false, said: '' };
    };
    const answer = await within(SEND_MS, signal, done(), 'the broker did not take it in time').catch(
      (error: unknown): Answer => ({ ok: false, retry: true, said: (error as Error).message }),
    );
    return answer.ok ? null : this.blanker.text(answer.said).slice(0, MOST_ANSWER);
  }

  async close(): Promise<void> {
    const client = this.client;
    this.client = null;
    if (!client) return;
    // Whoever reads the states is told that nobody keeps them any more; a broker that is gone says so by itself.
    if (client.connected && this.around)
      await Promise.race([client.publishAsync(this.alive, GONE, KEPT), sleep(LEAVE_MS)]).catch(
        () => undefined,
      );
    await client.endAsync(true);
  }
}

const connect = (settings: MqttSettings, around?: AroundLine): Line => new MqttLine(settings, around);

export const mqtt: ChannelKind<MqttSettings> = {
  id: 'mqtt',
  title: 'MQTT broker',
  help: 'For a home that acts on it: each message as an event under …/messages, and how each watch stands, retained, under …/watches, as long as …/alive says yes.',
  schema: settingsOf<MqttSettings>({
    host: host('the name or address of the broker'),
    port: port(1883, 'Mostly 1883, with TLS 8883.'),
    tls: boolean().default(false).meta({ description: 'Speaks TLS from the first byte.' }),
    user: string().trim().default('').max(200).meta({ description: 'The account; empty for none.' }),
    password: string().default('').max(500).meta({ description: 'Its password.' }),
    topic: string()
      .trim()
      .default('lantern')
      .max(200)
      .matches(
        /^[^#+\0/](?:[^#+\0]*[^#+\0/])?$/u,
        'Expected a topic without # and +, that neither begins nor ends with a slash.',
      )
      .meta({ description: 'What topics begin with.' }),
    authority: authority(),
  }),
  fields: [
    f.text('host', 'Broker', 'Its name or address.', { placeholder: 'broker.crew-house.example' }),
    f.number('port', 'Port', 'Mostly 1883, with TLS 8883.', { placeholder: '1883' }),
    f.toggle('tls', 'TLS', 'Speak TLS from the first byte.'),
    f.text('user', 'User', 'Only where the broker asks for one.'),
    f.secret('password', 'Password', 'Kept secret and not shown again.'),
    f.text('topic', 'Topic', 'What topics begin with: lantern/messages, lantern/watches/7.', {
      placeholder: 'lantern',
    }),
    authorityField(),
  ],
  shown: ({ topic, host: at }) => `${topic}/…, by ${at}`,
  send: (settings, message, signal) => sendOnce(connect(settings), message, signal),
  connect,
  mirrors: true,
};
