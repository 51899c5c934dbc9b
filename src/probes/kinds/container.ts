import * as f from '@/core/settings/fields';
import http from 'node:http';
import { object, string } from 'yup';
import { formatDuration } from '@/core/time/duration';
import { checkedBy, type LookContext, type ProbeKind } from '@/probes/frame/kind';
import { carryOut, type Run } from '@/probes/frame/run';
import * as s from '@/probes/fields/schema';
import { LookFailure } from '@/probes/frame/socket-cause';
import { connectToOf } from '@/probes/transport/web-request';

interface ContainerSettings {
  engine: string;
  container: string;
  mustBeHealthy: boolean;
}

const DEFAULT_SOCKET = '/var/run/docker.sock';
const DEFAULT_PORT = 2375;
const MOST_ANSWER = 2_000_000;

type Place = { socketPath: string } | { host: string; port: number };

/** "/path/of.sock", "unix:///path" or "host:port" (tcp:// before it does no harm). */
function placeOf(typed: string): Place | null {
  const text = typed.trim();
  const path = text.replace(/^unix:\/\//, '');
  if (path.startsWith('/')) return path.length <= 107 ? { socketPath: path } : null;
  const place = connectToOf(text.replace(/^(tcp|http):\/\//, ''));
  return place && { port: DEFAULT_PORT, ...place };
}

const schema = object({
  engine: string()
    .trim()
    .default(DEFAULT_SOCKET)
    .test(
      'engine',
      ({ value }) => `Expected the path of a socket or host:port, got “${String(value)}”.`,
      (value) => placeOf(value ?? '') !== null,
    )
    .meta({ description: 'The Unix socket or the TCP address of the container engine’s API.' }),
  container: string()
    .trim()
    .required('Expected the name of a container, got nothing.')
    .max(200)
    .matches(/^[\w.-]+$/, ({ value }) => `Expected the name or id of a container, got “${String(value)}”.`)
    .meta({ description: 'The container, by name or id.' }),
  mustBeHealthy: s.flag('Its own health check must say healthy, where it has one.', true),
});

interface State {
  Status?: string;
  ExitCode?: number;
  StartedAt?: string;
  Health?: { Status?: string };
}

function ask(run: Run, place: Place, path: string): Promise<{ status: number; body: string }> {
  return new Promise((resolve, reject) => {
    const request = http.request({
      ...place,
      path,
      agent: false,
      lookup: run.lookup,
      signal: run.signal,
    });
    request.on('error', reject);
    request.on('socket', (socket) => socket.on('connect', () => run.lap('connect', 'reply')));
    request.on('response', (response) => {
      run.lap('firstByte', 'download');
      let body = '';
      response.setEncoding('utf8');
      response.on('data', (chunk: string) => {
        body += chunk;
        if (body.length > MOST_ANSWER) request.destroy(run.failure('reply.too-large', { limit: '2 MB' }));
      });
      response.on('error', reject);
      response.on('end', () => resolve({ status: response.statusCode ?? 0, body }));
    });
    request.end();
  });
}

/** What it means that a socket could not be opened; other errors stay what they are. */
export function socketFailure(error: NodeJS.ErrnoException, path: string): Error {
  switch (error.code) {
    case 'EACCES':
    case 'EPERM':
      return new LookFailure({ cause: 'look.no-permission', detail: { path } });
    case 'ENOENT':
    case 'ECONNREFUSED':
    case 'ENOTSOCK':
      return new LookFailure({ cause: 'container.no-engine', detail: { path } });
    default:
      return error;
  }
}

function look(given: ContainerSettings, context: LookContext) {
  const settings = { ...container.defaults, ...given };
  const { container: name, mustBeHealthy } = settings;
  const place = placeOf(settings.engine)!;
  const local = 'socketPath' in place;
  const target = local ? { host: place.socketPath, port: 0 } : place;
  return carryOut(
    context,
    { ...target, timeoutMs: context.timeoutMs },
    () => [
      ['port', local ? 'socket' : `port ${place.port}`],
      ['reply', 'reply'],
      ['content', 'state'],
    ],
    async (run) => {
      run.stage = 'connect';
      let answer;
      try {
        answer = await ask(run, place, `/containers/${encodeURIComponent(name)}/json`);
      } catch (error) {
        if (local) throw socketFailure(error as NodeJS.ErrnoException, place.socketPath);
        throw error;
      }
      run.lap('download', 'download');
      if (answer.status === 404) run.fail('container.missing', { name });
      if (answer.status !== 200) run.fail('reply.status', { status: answer.status });
      let state: State | undefined;
      try {
        state = (JSON.parse(answer.body) as { State?: State }).State;
      } catch {
        // Said below.
      }
      if (!state?.Status) {
        return run.fail('reply.unexpected', { got: answer.body.slice(0, 80), service: 'a container engine' });
      }
      const health = state.Health?.Status;
      run.fact('state', state.Status);
      if (health) run.fact('health', health);
      if (state.StartedAt) run.fact('started', state.StartedAt);
      if (state.Status !== 'running') {
        const code = state.Status === 'exited' ? ` with status ${state.ExitCode ?? '?'}` : '';
        run.fail('container.stopped', { name, state: state.Status + code });
      }
      if (mustBeHealthy && health === 'unhealthy') run.fail('container.unhealthy', { name, health });
    },
  );
}

export const container: ProbeKind<ContainerSettings> = {
  id: 'container',
  title: 'container',
  help: 'Asks a container engine whether one container runs and is healthy.',
  ...checkedBy<ContainerSettings>(schema),
  fields: [
    f.text('container', 'Container', 'Its name or id.', { placeholder: 'booking-web' }),
    f.text(
      'engine',
      'Engine',
      'The path of its Unix socket, or host:port. Whoever may open the socket rules the machine: a read-only proxy in between is wise.',
      { shared: true, placeholder: DEFAULT_SOCKET },
    ),
    f.toggle(
      'mustBeHealthy',
      'Its own health check counts',
      'Fails when the check says unhealthy; while it is starting is fine.',
    ),
  ],
  hostOf: (settings) => settings.engine,
  targetOf: (settings) => `${settings.container} at ${settings.engine}`,
  nameOf: (settings) => `${settings.container} (container)`,
  walkTo: (settings) => {
    const place = placeOf(settings.engine);
    return place && 'host' in place ? { host: place.host, port: place.port } : null;
  },
  verdictSentence: ({ container: name, mustBeHealthy }, timeoutMs) =>
    `Fails when ${name} does not run${mustBeHealthy ? ' or its health check says unhealthy' : ''}, or the engine does not answer within ${formatDuration(timeoutMs)}.`,
  look,
};
