import type { IncomingMessage, ServerResponse } from 'node:http';
import type { Knex } from 'knex';
import type { ReportKind } from '../core/status';
import { saveReports, type NewReport } from '../store/reports';
import { fetchWatchIdByKey } from '../store/watches';

/** The longest output a run may send along. */
const MOST_OUTPUT_BYTES = 100_000;
const LONGEST_RUN_ID = 100;
const LONGEST_TARGET = 1000;
/** After an over-long body this much more is read and dropped, so that the sender gets to see the answer. */
const MOST_DROPPED_BYTES = 10_000_000;

interface Said {
  kind: ReportKind;
  code: number | null;
  run: string | null;
}

/** Reads what a job said from the query; a string is what is wrong with it. */
export function readReport(query: URLSearchParams): Said | string {
  const is = query.get('is');
  const code = query.get('code');
  const run = query.get('run');
  for (const name of query.keys()) {
    if (!['is', 'code', 'run'].includes(name))
      return `Expected only is, code and run, got "${name.slice(0, 40)}".`;
  }
  if (is !== null && !['begun', 'done', 'failed', 'note'].includes(is)) {
    return `Expected is to be begun, done, failed or note, got "${is.slice(0, 40)}".`;
  }
  if (code !== null && !/^-?\d{1,10}$/.test(code)) {
    return `Expected code to be an exit status such as 0, got "${code.slice(0, 40)}".`;
  }
  if (code !== null && is !== null && is !== 'done' && is !== 'failed') {
    return `Expected code only with done or failed, got it with ${is}.`;
  }
  if (run !== null && (run === '' || run.length > LONGEST_RUN_ID)) {
    return `Expected run to be 1 to ${LONGEST_RUN_ID} characters, got ${run.length}.`;
  }
  const status = code === null ? null : Number(code);
  const kind = (is as ReportKind | null) ?? 'done';
  return { kind: status !== null && status !== 0 && kind === 'done' ? 'failed' : kind, code: status, run };
}

function readBody(request: IncomingMessage): Promise<string | 'too-long' | null> {
  return new Promise((resolve, reject) => {
    const chunks: Buffer[] = [];
    let size = 0;
    request.on('data', (chunk: Buffer) => {
      size += chunk.length;
      if (size <= MOST_OUTPUT_BYTES) chunks.push(chunk);
      else if (size > MOST_DROPPED_BYTES) request.destroy();
    });
    request.on('error', reject);
    request.on('aborted', () => reject(new Error('aborted')));
    request.on('end', () => {
      if (size > MOST_OUTPUT_BYTES) resolve('too-long');
      else resolve(size === 0 ? null : Buffer.concat(chunks).toString('utf8').replaceAll('\0', '\uFFFD'));
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

interface Waiting {
  report: NewReport;
  resolve: () => void;
  reject: (error: unknown) => void;
}

/**
 * The check-in address. A report is answered with 2xx only after its commit; all that gathered since the last
 * commit goes into the next one.
 */
export class CheckinDesk {
  private readonly keys = new Map<string, number>();
  private waiting: Waiting[] = [];
  private committing: Promise<void> | null = null;

  constructor(
    private readonly db: Knex,
    private readonly now: () => number,
    private readonly onCommitted: () => void,
  ) {}

  forgetKeys(): void {
    this.keys.clear();
  }

  async handle(request: IncomingMessage, response: ServerResponse, client: string): Promise<void> {
    const target = request.url ?? '';
    if (target.length > LONGEST_TARGET) return reply(response, 414, 'Expected a shorter address.');
    if (!['GET', 'POST', 'HEAD'].includes(request.method ?? '')) {
      response.setHeader('allow', 'GET, POST, HEAD');
      return reply(response, 405, 'Expected GET, POST or HEAD.');
    }
    const url = new URL(target, 'http://front.door');
    const watchId = await this.watchOf(url.pathname.slice('/in/'.length));
    if (watchId === null) return reply(response, 404, 'There is no check-in at this address.');
    const said = readReport(url.searchParams);
    if (typeof said === 'string') return reply(response, 400, said);
    let output: string | null;
    try {
      output = await readBody(request);
    } catch {
      response.destroy();
      return;
    }
    if (output === 'too-long') {
      return reply(response, 413, `Expected at most ${MOST_OUTPUT_BYTES} bytes of output.`);
    }
    const report = { watchId, at: this.now(), ...said, method: request.method!, address: client, output };
    try {
      await this.commit(report);
    } catch {
      return reply(response, 503, 'The check-in could not be kept. Try again.');
    }
    reply(response, 200, 'ok');
  }

  private async watchOf(key: string): Promise<number | null> {
    if (!/^[\w-]{16,64}$/.test(key)) return null;
    const known = this.keys.get(key);
    if (known !== undefined) return known;
    const id = await fetchWatchIdByKey(this.db, key);
    if (id !== null) this.keys.set(key, id);
    return id;
  }

  private commit(report: NewReport): Promise<void> {
    return new Promise((resolve, reject) => {
      this.waiting.push({ report, resolve, reject });
      this.committing ??= new Promise<void>((next) => setImmediate(next))
        .then(() => this.commitWaiting())
        .finally(() => {
          this.committing = null;
        });
    });
  }

  private async commitWaiting(): Promise<void> {
    while (this.waiting.length > 0) {
      const batch = this.waiting;
      this.waiting = [];
      try {
        await saveReports(
          this.db,
          batch.map((w) => w.report),
        );
        for (const w of batch) w.resolve();
        this.onCommitted();
      } catch (error) {
        for (const w of batch) w.reject(error);
      }
    }
  }

  /** Resolves once everything accepted so far is committed. */
  async close(): Promise<void> {
    await this.committing;
  }
}
