import { spawn, type ChildProcess } from 'node:child_process';
import http from 'node:http';
import { join } from 'node:path';
import { ROOT } from '../tests/integration/helpers';

export interface Bare {
  port: number;
  process: ChildProcess;
}

/** Starts one of the bare things in a process of its own. */
export async function startBare(args: string[], input = ''): Promise<Bare> {
  const child = spawn(process.execPath, [join(ROOT, 'dist/bare.js'), ...args], {
    stdio: ['pipe', 'pipe', 'inherit'],
  });
  child.stdin.end(input);
  const port = Number(await new Promise((resolve) => child.stdout.once('data', resolve)));
  return { port, process: child };
}

/** Requests per second to some addresses in turn over so many kept connections; every answer has to be 200. */
export async function requestsPerSecond(
  urls: readonly URL[],
  total: number,
  connections: number,
): Promise<number> {
  const agent = new http.Agent({ keepAlive: true, maxSockets: connections });
  let left = total;
  const one = () =>
    new Promise<void>((resolve, reject) => {
      const request = http.get(urls[left % urls.length]!, { agent }, (response) => {
        response.resume();
        response.on('end', () =>
          response.statusCode === 200
            ? resolve()
            : reject(new Error(`Expected 200, got ${response.statusCode}`)),
        );
      });
      request.on('error', reject);
    });
  const worker = async () => {
    while (left > 0) {
      left -= 1;
      await one();
    }
  };
  const started = performance.now();
  await Promise.all(Array.from({ length: connections }, worker));
  const seconds = (performance.now() - started) / 1000;
  agent.destroy();
  return total / seconds;
}

/** Requests per second with a fresh connection each, as looks are made. */
export async function freshRequestsPerSecond(url: URL, total: number, inFlight: number): Promise<number> {
  let left = total;
  const worker = async () => {
    while (left > 0) {
      left -= 1;
      await new Promise<void>((resolve, reject) => {
        const request = http.get(url, { agent: false }, (response) => {
          response.resume();
          response.on('end', resolve);
        });
        request.on('error', reject);
      });
    }
  };
  const started = performance.now();
  await Promise.all(Array.from({ length: inFlight }, worker));
  return total / ((performance.now() - started) / 1000);
}
