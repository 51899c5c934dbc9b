import { spawn, type ChildProcess } from 'node:child_process';
import { chmodSync, existsSync, rmSync, writeFileSync } from 'node:fs';
import { connect } from 'node:net';
import { join } from 'node:path';
import { issueCertificate, makeAuthority } from '@/standins/certificates';
import { tempFolder, until } from './helpers';

export const host = '127.0.0.1';

/** Where Debian puts a server, or null where it is not installed; then it is said, and its test is left out. */
export function findServer(name: string, ...places: (string | null)[]): string | null {
  const found = places.find((place) => place !== null && existsSync(place)) ?? null;
  if (found === null) process.stderr.write(`${name} is not installed: its test is left out\n`);
  return found;
}

/** Starts real servers for the tests of one file, in a folder that goes with them. */
export class RealServers {
  readonly folder = tempFolder();
  private readonly running: ChildProcess[] = [];

  constructor() {
    // Some of them give up being root before they read it.
    chmodSync(this.folder, 0o755);
  }

  write(name: string, text: string, mode = 0o644): string {
    const path = join(this.folder, name);
    writeFileSync(path, text);
    // What was opened before may have taken everybody else’s rights to new files away.
    chmodSync(path, mode);
    return path;
  }

  /** A certificate for names, as files; and the authority that made it. */
  async certificate(names: string[]) {
    const authority = await makeAuthority();
    const pair = await issueCertificate(authority, { names });
    const [cert, key] = [this.write('cert.pem', pair.cert), this.write('key.pem', pair.key)];
    return { cert, key, pair, authority: authority.pem };
  }

  /** Starts a program and waits until it listens. */
  async start(program: string, args: string[], port: number, options: { uid?: number; gid?: number } = {}) {
    const child = spawn(program, args, { stdio: ['ignore', 'ignore', 'pipe'], cwd: '/', ...options });
    let said = '';
    child.stderr!.on('data', (chunk: Buffer) => (said += chunk.toString()));
    this.running.push(child);
    await until(() => {
      if (child.exitCode !== null) throw new Error(`${program} ended with ${child.exitCode}:\n${said}`);
      return new Promise<boolean>((resolve) => {
        const socket = connect(port, host, () => {
          socket.destroy();
          resolve(true);
        });
        socket.on('error', () => resolve(false));
      });
    }, `${program} on ${port}`);
    return child;
  }

  async end(child: ChildProcess): Promise<void> {
    if (child.exitCode !== null || child.signalCode !== null) return;
    const ended = new Promise((resolve) => child.once('exit', resolve));
    child.kill('SIGTERM');
    await ended;
  }

  async endAll(): Promise<void> {
    for (const child of this.running) await this.end(child);
    rmSync(this.folder, { recursive: true, force: true });
  }
}
