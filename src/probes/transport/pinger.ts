import { spawn } from 'node:child_process';
import { LookFailure } from '@/probes/frame/socket-cause';

export interface PingResult {
  sent: number;
  received: number;
  /** Mean round trip in milliseconds; null where nothing came back. */
  meanMs: number | null;
}

/** More than this many pings at once spawn no further ones: each is a process. */
const MOST_AT_ONCE = 16;
let running = 0;
const waiting: (() => void)[] = [];

/** What to do when too many pings run already: wait, do without, or go ahead all the same. */
export type PingTurn = 'wait' | 'or-not' | 'at-once';

async function enter(turn: PingTurn): Promise<void> {
  if (running >= MOST_AT_ONCE && turn === 'or-not') throw noPing('too many others run at the moment');
  if (running >= MOST_AT_ONCE && turn === 'wait') await new Promise<void>((resolve) => waiting.push(resolve));
  running += 1;
}

function leave(): void {
  running -= 1;
  waiting.shift()?.();
}

function noPing(reason: string): LookFailure {
  return new LookFailure({ cause: 'look.no-ping', detail: { reason } });
}

/** What the system's ping printed, as figures; null where it printed none. */
export function readPing(output: string): PingResult | null {
  const counts = /(\d+) packets transmitted, (\d+) (?:packets )?received/.exec(output);
  if (!counts) return null;
  const times = /(?:rtt|round-trip) [^=]*= [\d.]+\/([\d.]+)/.exec(output);
  return {
    sent: Number(counts[1]),
    received: Number(counts[2]),
    meanMs: times && Number(counts[2]) > 0 ? Number(times[1]) : null,
  };
}

/**
 * Sends ICMP echo requests through the system's `ping`, which may do so without root. Throws `look.no-ping`
 * where this machine cannot: that is never the target's fault.
 */
export async function ping(
  address: string,
  {
    packets,
    limitMs,
    signal,
    turn = 'wait',
    command = 'ping',
  }: {
    packets: number;
    /** Asked when its turn has come. */
    limitMs: () => number;
    signal: AbortSignal;
    turn?: PingTurn;
    command?: string;
  },
): Promise<PingResult> {
  await enter(turn);
  try {
    signal.throwIfAborted();
    const seconds = Math.max(1, Math.floor(limitMs() / 1000));
    const args = [
      '-n',
      '-q',
      '-c',
      String(packets),
      '-i',
      '0.2',
      '-W',
      String(seconds),
      '-w',
      String(seconds),
      '--',
      address,
    ];
    // Or the bundler of the pages takes everything there is for something that may be started.
    const child = spawn(/* turbopackIgnore: true */ command, args, {
      stdio: ['ignore', 'pipe', 'pipe'],
      env: { ...process.env, LC_ALL: 'C' },
    });
    let output = '';
    let errors = '';
    child.stdout.on('data', (chunk: Buffer) => (output += chunk.toString()));
    child.stderr.on('data', (chunk: Buffer) => (errors += chunk.toString()));
    const onAbort = () => child.kill('SIGKILL');
    signal.addEventListener('abort', onAbort, { once: true });
    const code = await new Promise<number | null>((resolve, reject) => {
      child.once('error', (error: NodeJS.ErrnoException) =>
        reject(noPing(error.code === 'ENOENT' ? 'the ping program is not installed' : error.message)),
      );
      child.once('close', resolve);
    }).finally(() => signal.removeEventListener('abort', onAbort));
    const result = readPing(output);
    if (result) return result;
    if (/network is unreachable|no route to host/i.test(errors)) {
      throw Object.assign(new Error(errors), { code: 'ENETUNREACH' });
    }
    throw noPing(
      errors
        .split('\n')[0]!
        .replace(/^\S*ping: /, '')
        .trim() || `ping ended with status ${code}`,
    );
  } finally {
    leave();
  }
}
