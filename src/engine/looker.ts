import type { LookupFunction } from 'node:net';
import type { Finding } from '../core/finding';
import type { ProbeConfig } from '../core/watch-config';
import { probeKind } from '../probes/registry';

export interface LookerOptions {
  now: () => number;
  monotonic: () => number;
  lookup: LookupFunction;
  signal: AbortSignal;
}

/** Runs one look. Whatever goes wrong in here is a finding too, marked as this machine's fault. */
export async function runLook(kind: string, config: ProbeConfig, options: LookerOptions): Promise<Finding> {
  const at = options.now();
  const started = options.monotonic();
  try {
    const probe = probeKind(kind);
    if (!probe) throw new Error(`there is no kind of probe called "${kind}"`);
    return await probe.look(config.settings, { ...options, timeoutMs: config.timeout * 1000 });
  } catch (error) {
    const reason = error instanceof Error ? error.message : String(error);
    return {
      at,
      verdict: 'failed',
      ms: options.monotonic() - started,
      cause: 'look.broken',
      detail: { reason },
    };
  }
}
