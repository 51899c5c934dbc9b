import { lookAtPort } from '@/probes/frame/look-at-port';
import * as f from '@/core/settings/fields';
import { expectValue } from '@/probes/transport/answer';
import { isIP, Socket } from 'node:net';
import type { Knex } from 'knex';
import { object, string } from 'yup';
import { comparisonProblem, failingText, WITHOUT_VALUE, type Comparison } from '@/core/expect/compare';
import { formatDuration } from '@/core/time/duration';
import { Conversation, limitBytes, openConnection, secureConnection } from '@/probes/transport/connection';
import { hostFields, signInFields, valueFields } from '@/probes/fields/host-fields';
import { checkedBy, type LookContext, type ProbeKind } from '@/probes/frame/kind';
import { resolveFor } from '@/probes/transport/resolve';
import { type Run } from '@/probes/frame/run';
import * as s from '@/probes/fields/schema';
import { timeoutCause } from '@/probes/frame/socket-cause';
import { askForTls } from '@/probes/transport/starttls';
import { tlsSwitch, tlsShape, tlsWish, type TlsSettings } from '@/probes/fields/tls-wish';
import { trusting } from '@/outside/authority';

export interface DatabasePlace extends TlsSettings {
  service: 'postgresql' | 'mysql';
  host: string;
  port: number;
  database: string;
  user: string;
  password: string;
  tls: boolean;
  query: string;
}

interface DatabaseSettings extends DatabasePlace {
  comparison: Comparison;
  value: string;
}

export const placeShape = () => ({
  service: s.oneOf('Which database it is.', ['postgresql', 'mysql'] as const, 'postgresql'),
  database: s.text('The database to sign in to.', 100),
  user: s.text('The account to sign in with.', 100),
  password: s.secret('Its password.'),
  tls: s.flag('Goes over to TLS.'),
  query: s.text('One query; it runs in a transaction that may only read.', 4000),
  ...tlsShape(),
});

/** An expected value that fits its comparison. */
export const expectedValue = () =>
  string()
    .default('')
    .max(1000)
    .test('value', function check(value) {
      const how = (this.parent as { comparison: Comparison }).comparison;
      const wrong = WITHOUT_VALUE.includes(how) ? null : comparisonProblem(how, value ?? '');
      return wrong === null || this.createError({ message: wrong });
    })
    .meta({ description: 'What it is compared with.' });

const schema = object({
  host: s.host(),
  port: s.port(5432),
  ...placeShape(),
  query: placeShape().query.default('SELECT 1'),
  comparison: s.comparison('How the first value of the first row is compared.', 'is there'),
  value: expectedValue(),
});

const SIGN_IN_CODES =
  /^(28\d{3}|3D000|ER_ACCESS_DENIED_ERROR|ER_DBACCESS_DENIED_ERROR|ER_BAD_DB_ERROR|ER_HOST_NOT_PRIVILEGED|ER_NOT_SUPPORTED_AUTH_MODE)$/;

const FULL_CODES = /^(53300|ER_CON_COUNT_ERROR|ER_TOO_MANY_USER_CONNECTIONS|ER_USER_LIMIT_REACHED)$/;
const SERVICE_NAMES = { postgresql: 'PostgreSQL', mysql: 'MySQL or MariaDB' } as const;

function firstLine(error: Error): string {
  return error.message.split('\n')[0]!.slice(0, 200);
}

/** A driver's error as a cause: the network's own codes pass, the rest is a refused sign-in or a failed query. */
function refuse(run: Run, error: NodeJS.ErrnoException, asking: boolean, service: string): never {
  const code = error.code ?? '';
  if (/^(E[A-Z]+|ERR_SSL\w*)$/.test(code) && !code.startsWith('ER_')) throw error;
  if (/certificate|altname/i.test(error.message)) run.fail('tls.untrusted', { reason: firstLine(error) });
  if (/Connection terminated|closed state|PROTOCOL_CONNECTION_LOST/i.test(`${code} ${error.message}`)) {
    run.fail('reply.cut-off');
  }
  const said = firstLine(error).replace(/\.$/, '');
  if (FULL_CODES.test(code) || /too many (clients|connections)/i.test(said))
    run.fail('sign-in.full', { said });
  if (code === '57P03' || code === 'ER_SERVER_SHUTDOWN') run.fail('sign-in.not-ready', { said });
  // Both drivers say this of a server that took the connection and then said nothing.
  if (/timeout expired|ETIMEDOUT|connect timed? ?out/i.test(`${code} ${said}`)) {
    if (run.stage === 'connect') {
      run.fail('port.timeout', { port: run.target.port, limit: formatDuration(run.context.timeoutMs) });
    }
    run.fail('answer.none', { port: run.target.port, limit: formatDuration(run.context.timeoutMs) });
  }
  if (SIGN_IN_CODES.test(code) || /password|authentication|access denied/i.test(said)) {
    run.fail('sign-in.refused', { said });
  }
  if (!asking) run.fail('reply.unexpected', { got: said, service });
  return run.fail('command.refused', { command: 'the query', said: firstLine(error).replace(/^.* - /, '') });
}

/** What is used of a driver's own connection: pg keeps its socket one deeper than mysql2. */
interface DriverConnection {
  stream?: Socket;
  connection?: { stream: Socket };
}

export const loadKnex = () => import('knex');

/**
 * Looks at the certificate over a connection of its own before anybody signs in: drivers tell its faults apart badly,
 * and that of MySQL does not compare its name.
 */
async function checkCertificate(run: Run, place: DatabasePlace, address: string): Promise<void> {
  const { service, host, port } = place;
  const talk = new Conversation(run, await openConnection(run, { host: address, port }));
  await askForTls(run, talk, service);
  (await secureConnection(run, talk.release(), tlsWish(place, host))).destroy();
}

async function clientFor(run: Run, place: DatabasePlace, address: string): Promise<Knex> {
  const { service, host, port, database, user, password, tls, servername, authority, skipVerify } = place;
  const name = servername || host;
  const ssl = tls && {
    rejectUnauthorized: !skipVerify,
    ...(!isIP(name) && { servername: name }),
    ...trusting(authority ?? ''),
  };
  const afterCreate = (connection: DriverConnection, done: (error: null, connection: unknown) => void) => {
    limitBytes(run, connection.connection?.stream ?? connection.stream!);
    done(null, connection);
  };
  // From when on the server is what keeps us waiting, and no longer the way to it.
  const stream = () => {
    const socket = new Socket();
    socket.once('connect', () => run.lap('connect', 'reply'));
    return socket;
  };
  const common = { host: address, port, user, password, ssl };
  const { default: knex } = await loadKnex();
  return knex({
    client: service === 'postgresql' ? 'pg' : 'mysql2',
    connection:
      service === 'postgresql'
        ? {
            ...common,
            stream,
            database: database || 'postgres',
            connectionTimeoutMillis: run.leftMs,
            statement_timeout: Math.ceil(run.leftMs),
          }
        : {
            ...common,
            stream: () => stream().connect(port, address),
            ssl: ssl || undefined,
            database: database || undefined,
            connectTimeout: run.leftMs,
            // Numbers beyond what a double holds come as their digits.
            supportBigNumbers: true,
            bigNumberStrings: true,
          },
    // Asked for its version, an odd server's odd answer would go past every handler.
    version: service === 'postgresql' ? '15.0' : '8.0',
    pool: { min: 0, max: 1, afterCreate },
    acquireConnectionTimeout: run.context.timeoutMs + 1000,
    log: {
      warn: () => undefined,
      error: () => undefined,
      debug: () => undefined,
      deprecate: () => undefined,
    },
  });
}

/** Signs in and runs one query in a transaction that may only read; resolves to its rows. */
export async function fetchRows(run: Run, place: DatabasePlace): Promise<Record<string, unknown>[]> {
  const address = await resolveFor(run, place.host);
  run.target.port = place.port;
  if (place.tls) await checkCertificate(run, place, address);
  run.stage = 'connect';
  const client = await clientFor(run, place, address);
  let asking = false;
  // The server took the connection and says nothing: that is neither the way to it nor a slow query.
  run.whenTimeIsUp = () =>
    run.stage === 'reply' && !asking
      ? {
          cause: 'answer.none',
          detail: { port: place.port, limit: formatDuration(run.context.timeoutMs) },
        }
      : timeoutCause(run.stage, run.target);
  run.onEnd(() => void client.destroy().catch(() => undefined));
  try {
    return await client.transaction(
      async (trx) => {
        asking = true;
        // The extended protocol takes one statement only, so nothing can be slipped in behind it.
        const answer = (await trx.raw(place.query).options({ queryMode: 'extended' })) as unknown;
        run.lap('firstByte', 'reply');
        const rows = Array.isArray(answer) ? (answer[0] as unknown) : (answer as { rows: unknown }).rows;
        return Array.isArray(rows) ? (rows as Record<string, unknown>[]) : [];
      },
      { readOnly: true },
    );
  } catch (error) {
    return refuse(run, error as NodeJS.ErrnoException, asking, SERVICE_NAMES[place.service]);
  } finally {
    void client.destroy().catch(() => undefined);
  }
}

/** The first value of the first row; undefined where there is no row, or NULL in it: that is no value. */
export function firstValue(rows: readonly Record<string, unknown>[]): unknown {
  const row = rows[0];
  if (!row) return undefined;
  const value = Object.values(row)[0];
  if (value === null) return undefined;
  return value instanceof Date ? value.toISOString() : typeof value === 'bigint' ? String(value) : value;
}

function look(given: DatabaseSettings, context: LookContext) {
  const settings = { ...database.defaults, ...given };
  return lookAtPort(
    context,
    settings,
    {
      tls: settings.tls,
      rungs: [
        ['reply', 'sign-in and query'],
        ['content', 'result'],
      ],
    },
    async (run) => {
      const rows = await fetchRows(run, settings);
      const got = firstValue(rows);
      run.fact('rows', String(rows.length));
      if (got !== undefined) run.fact('first value', String(got));
      const none = rows.length > 0 ? 'the first row: it is NULL' : 'the first row';
      expectValue(run, got, settings, { what: 'the result', none });
    },
  );
}

/** The name of the database on its server. */
export const nameField = f.text('database', 'Database', 'Its name on the server.');

export const database: ProbeKind<DatabaseSettings> = {
  id: 'database',
  title: 'database',
  help: 'Signs in to PostgreSQL, MySQL or MariaDB, runs one query that only reads, and compares the result.',
  ...checkedBy<DatabaseSettings>(schema),
  fields: [
    f.choice('service', 'Which one', 'An account that may only read is best.', [
      ['postgresql', 'PostgreSQL'],
      ['mysql', 'MySQL or MariaDB'],
    ]),
    ...hostFields('db.ternferry.test', '5432 or 3306'),
    nameField,
    ...signInFields(),
    f.area('query', 'Query', 'One statement, run in a transaction that may only read.', {
      placeholder: 'SELECT count(*) FROM bookings',
    }),
    ...valueFields('The first value of the first row'),
    ...tlsSwitch('Goes over to TLS', 'Its certificate is checked.'),
  ],
  hostOf: (settings) => settings.host,
  targetOf: ({ host, port, database: name }) => `${host}:${port}${name ? ` ${name}` : ''}`,
  nameOf: ({ host, database: name }) => (name ? `${name} on ${host}` : `${host} (database)`),
  walkTo: ({ host, port }) => ({ host, port }),
  verdictSentence: ({ comparison, value }, timeoutMs) =>
    `Fails when signing in and the query take more than ${formatDuration(timeoutMs)} or are refused, or when the result ${failingText(comparison, value)}.`,
  prepare: loadKnex,
  look,
};
