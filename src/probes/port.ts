import { connect, isIP } from 'node:net';
import { number, object, string } from 'yup';
import { formatDuration } from '../core/duration';
import type { Finding, Phases } from '../core/finding';
import type { LookContext, ProbeKind } from './kind';
import { errorCause, timeoutCause, type Failure, type Stage, type Target } from './socket-cause';

export interface PortSettings {
  host: string;
  port: number;
}

const schema = object({
  host: string()
    .trim()
    .required('Expected a host name or address, got nothing.')
    .max(253)
    .matches(/^[a-z0-9_.:-]+$/i, ({ value }) => `Expected a host name or address, got "${String(value)}".`)
    .meta({ description: 'Host name or IP address.' }),
  port: number()
    .required('Expected a port from 1 to 65535, got nothing.')
    .typeError('Expected a port from 1 to 65535.')
    .integer()
    .min(1, ({ value }) => `Expected a port from 1 to 65535, got ${value}.`)
    .max(65535, ({ value }) => `Expected a port from 1 to 65535, got ${value}.`)
    .meta({ description: 'TCP port.' }),
});

/** Opens a TCP connection and closes it again. */
function look(settings: PortSettings, context: LookContext): Promise<Finding> {
  const at = context.now();
  const started = context.monotonic();
  const phases: Phases = {};
  const target: Target = { host: settings.host, port: settings.port, timeoutMs: context.timeoutMs };
  let stage: Stage = isIP(settings.host) ? 'connect' : 'name';
  let mark = started;
  return new Promise((resolve) => {
    let settled = false;
    const socket = connect({ host: settings.host, port: settings.port, lookup: context.lookup });
    const finish = (failure: Failure | null) => {
      if (settled) return;
      settled = true;
      clearTimeout(timer);
      context.signal.removeEventListener('abort', onAbort);
      socket.destroy();
      const failedAt = failure?.cause.startsWith('name') ? 0 : 1;
      resolve({
        at,
        ms: context.monotonic() - started,
        ...(failure ? { verdict: 'failed' as const, ...failure } : { verdict: 'fine' as const }),
        evidence: {
          phases,
          address: target.address,
          ladder: [
            { rung: 'name', label: 'name', result: failure && failedAt === 0 ? 'failed' : 'fine' },
            {
              rung: 'port',
              label: `port ${settings.port}`,
              result: !failure ? 'fine' : failedAt === 1 ? 'failed' : 'not-reached',
            },
          ],
        },
      });
    };
    const timer = setTimeout(() => finish(timeoutCause(stage, target)), context.timeoutMs);
    const onAbort = () => finish({ cause: 'look.broken', detail: { reason: 'it was called off' } });
    context.signal.addEventListener('abort', onAbort, { once: true });
    socket.on('lookup', (error, address) => {
      if (error) return;
      target.address = String(address);
      phases.name = context.monotonic() - mark;
      mark = context.monotonic();
      stage = 'connect';
    });
    socket.on('connect', () => {
      phases.connect = context.monotonic() - mark;
      target.address = socket.remoteAddress;
      finish(null);
    });
    socket.on('error', (error) => finish(errorCause(error, stage, target)));
  });
}

export const port: ProbeKind<PortSettings> = {
  id: 'port',
  title: 'port',
  help: 'Opens a TCP connection, for anything that listens: a kiosk, a mail server, a database.',
  schema,
  defaults: { host: '', port: 0 },
  fields: [
    {
      name: 'host',
      label: 'Host',
      help: 'A name or an address.',
      control: 'text',
      placeholder: 'kiosk-north.ternferry.test',
    },
    { name: 'port', label: 'Port', help: 'From 1 to 65535.', control: 'number', placeholder: '9100' },
  ],
  hostOf: (settings) => settings.host,
  targetOf: (settings) => `${settings.host} port ${settings.port}`,
  nameOf: (settings) => `${settings.host}:${settings.port}`,
  verdictSentence: (settings, timeoutMs) =>
    `Fails when port ${settings.port} does not accept a connection within ${formatDuration(timeoutMs)}.`,
  look,
};
