import type { LookupFunction } from 'node:net';
import { limitTime } from '@/outside/limit';
import { openConnection } from '@/probes/transport/connection';
import { ping } from '@/probes/transport/pinger';
import { addressesOf } from '@/probes/transport/resolve';
import { carryOut } from '@/probes/frame/run';

const LIMIT_MS = 3_000;

/** No answer, as soon as the time is up: a resolver may take much longer to give in. */
function givenUp(signal: AbortSignal): Promise<false> {
  return new Promise((resolve) => signal.addEventListener('abort', () => resolve(false), { once: true }));
}

/** An answer is good for this long. */
const FRESH_MS = 4_000;

export interface UplinkOptions {
  now: () => number;
  monotonic: () => number;
  lookup: LookupFunction;
  signal: AbortSignal;
  /** The line was lost, or is back; `began` is when the loss began. */
  onChange: (change: { out: boolean; began: number; at: number }) => Promise<void>;
  onError: (error: unknown) => void;
}

/** Tells whether this machine can reach out at all. Without addresses it takes that for granted. */
export class Uplink {
  private addresses: readonly string[] = [];
  private outSince: number | null = null;
  /** By the monotonic clock. */
  private checkedAt = -Infinity;
  private checking: Promise<boolean> | null = null;
  /** The check after the one under way. */
  private next: Promise<boolean> | null = null;

  constructor(private readonly options: UplinkOptions) {}

  get out(): boolean {
    return this.outSince !== null;
  }

  /** Takes up a line that was lost before a restart. */
  resume(began: number | null): void {
    this.outSince = began;
  }

  set(addresses: readonly string[]): void {
    this.addresses = addresses;
    this.checkedAt = -Infinity;
  }

  /**
   * Whether all addresses fail at this moment. An answer of the last seconds is good enough, unless it is to be found
   * out `anew`: then that the line was fine a moment ago says nothing.
   */
  isOut(anew = false): Promise<boolean> {
    if (this.addresses.length === 0 && !this.out) return Promise.resolve(false);
    const fresh = this.options.monotonic() - this.checkedAt < FRESH_MS;
    if (fresh && (this.out || !anew)) return Promise.resolve(this.out);
    if (!this.checking || !anew) return this.joinCheck();
    // What is under way may have asked before the line was lost.
    this.next ??= this.checking.then(() => {
      this.next = null;
      return this.joinCheck();
    });
    return this.next;
  }

  private joinCheck(): Promise<boolean> {
    this.checking ??= this.check().finally(() => (this.checking = null));
    return this.checking;
  }

  private async check(): Promise<boolean> {
    const { now, onChange, onError } = this.options;
    const asked = now();
    const { signal } = this.options;
    const answers = await Promise.all(this.addresses.map((address) => this.answers(address)));
    if (signal.aborted) return this.out;
    const out = answers.length > 0 && !answers.includes(true);
    const at = Math.max(now(), asked);
    this.checkedAt = this.options.monotonic();
    if (out === this.out) return out;
    const began = Math.min(this.outSince ?? asked, at);
    this.outSince = out ? asked : null;
    await onChange({ out, began, at }).catch(onError);
    return out;
  }

  private async pings(address: string, signal: AbortSignal): Promise<boolean> {
    const [ip] = await addressesOf(this.options.lookup, address);
    const asking = { packets: 2, limitMs: () => LIMIT_MS - 1000, signal, turn: 'at-once' as const };
    return (await ping(ip!, asking)).received > 0;
  }

  /** "host:port" by a connection, "host" by ping. What this machine cannot try counts as no answer. */
  private async answers(address: string): Promise<boolean> {
    const { signal } = this.options;
    const match = /^(?:\[([0-9a-f:.]+)\]|([^:]+)):(\d+)$/i.exec(address);
    try {
      if (!match) {
        const limit = limitTime(LIMIT_MS, signal);
        try {
          return await Promise.race([this.pings(address, limit.signal), givenUp(limit.signal)]);
        } finally {
          limit.release();
        }
      }
      const place = { host: (match[1] ?? match[2])!, port: Number(match[3]) };
      const context = { ...this.options, timeoutMs: LIMIT_MS };
      const target = { ...place, timeoutMs: LIMIT_MS };
      const finding = await carryOut(
        context,
        target,
        () => [],
        async (run) => void (await openConnection(run, place)),
      );
      // A refusal comes from the host itself, so the way there is open.
      return finding.verdict !== 'failed' || finding.cause === 'port.refused';
    } catch {
      return false;
    }
  }
}
