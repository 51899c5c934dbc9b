import type { IncomingMessage, ServerResponse } from 'node:http';
import { blankSecrets } from '@/core/text/blank-secrets';
import { OutputKeeper } from '@/core/reports/output';
import { readReport } from '@/core/reports/report-query';
import type { ReportIntake } from './report-intake';

const LONGEST_TARGET = 1000;
const LONGEST_AGENT = 200;
/** Of a body longer than what is kept, this much is read, so that the sender gets to see the answer. */
const MOST_READ_BYTES = 20_000_000;

/** Reads the whole body; its beginning and its end are kept. */
function readBody(request: IncomingMessage): Promise<string | null> {
  const { headers } = request;
  // Most reports have none (RFC 9112, section 6.3), and then there is nothing to wait for.
  if (headers['content-length'] === undefined && headers['transfer-encoding'] === undefined) {
    request.resume();
    return Promise.resolve(null);
  }
  return new Promise((resolve, reject) => {
    const kept = new OutputKeeper();
    request.on('data', (chunk: Buffer) => {
      kept.add(chunk);
      if (kept.size > MOST_READ_BYTES) request.destroy();
    });
    request.on('error', reject);
    request.on('aborted', () => reject(new Error('aborted')));
    request.on('end', () => {
      const text = kept.asText();
      resolve(text === null ? null : blankSecrets(text));
    });
  });
}

function reply(response: ServerResponse, status: number, line: string): void {
  response.writeHead(status, {
    'content-type': 'text/plain; charset=utf-8',
    'cache-control': 'no-store',
    'content-length': Buffer.byteLength(line) + 1,
  });
  response.end(`${line}\n`);
}

/** The check-in address. A report is answered with 2xx only after its commit. */
export async function handleCheckin(
  intake: ReportIntake,
  request: IncomingMessage,
  response: ServerResponse,
  client: string,
): Promise<void> {
  const target = request.url ?? '';
  const refuse = async (status: number, line: string) => {
    await intake.slowMistakes(client);
    reply(response, status, line);
  };
  if (target.length > LONGEST_TARGET) return refuse(414, 'Expected a shorter address.');
  if (!['GET', 'POST', 'HEAD'].includes(request.method ?? '')) {
    response.setHeader('allow', 'GET, POST, HEAD');
    return refuse(405, 'Expected GET, POST or HEAD.');
  }
  const mark = target.indexOf('?');
  const path = mark < 0 ? target : target.slice(0, mark);
  const door = await intake.doorOf(path.slice('/in/'.length), client);
  if (!door) return refuse(404, 'There is no check-in at this address.');
  if (door.methods === 'post' && request.method !== 'POST') {
    response.setHeader('allow', 'POST');
    return refuse(405, 'Expected POST: nothing else counts at this address.');
  }
  const said = readReport(new URLSearchParams(mark < 0 ? '' : target.slice(mark)));
  if (typeof said === 'string') return refuse(400, said);
  let output: string | null;
  try {
    output = await readBody(request);
  } catch {
    response.destroy();
    return;
  }
  const agent = request.headers['user-agent']?.slice(0, LONGEST_AGENT) ?? null;
  try {
    await intake.keep(door, { ...said, method: request.method!, address: client, agent, output });
  } catch {
    return reply(response, 503, 'The check-in could not be kept. Try again.');
  }
  await intake.slowReports(client, door);
  reply(response, 200, 'ok');
}
