import { readFileSync } from 'node:fs';
import type { IncomingMessage } from 'node:http';
import { join } from 'node:path';
import { linkBase, type Environment } from '@/core/settings/environment';

/** What may stand in a shell script as it is. */
const PLAIN_ADDRESS = /^https?:\/\/[\w.:[\]-]+(\/[\w./-]*)?$/;

/** Where this product is, as the one who asks calls it; a strange name is not taken over into a script. */
function addressFor(request: IncomingMessage, environment: Environment): string {
  const scheme = request.headers['x-forwarded-proto'] === 'https' ? 'https' : 'http';
  const host = request.headers['x-forwarded-host'] ?? request.headers.host;
  const asked = `${scheme}://${String(host)}`;
  if (environment.baseUrl === null && PLAIN_ADDRESS.test(asked)) return asked;
  const base = linkBase(environment);
  return PLAIN_ADDRESS.test(base) ? base : '';
}

/** The wrapper for jobs as it is handed out: it knows where to report. */
export function wrapperFor(environment: Environment, folder: string): (request: IncomingMessage) => string {
  const script = readFileSync(join(folder, '..', 'tools', 'lantern-run'), 'utf8');
  return (request) => script.replace('@BASE@', addressFor(request, environment));
}
