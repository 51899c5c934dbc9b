import { isIP } from 'node:net';
import { causeSentence } from '@/core/causes/causes';
import { formatMs } from '@/core/time/duration';
import type { FailedFinding, Rung, RungName, RungResult } from '@/core/causes/finding';
import { openConnection, secureConnection } from '@/probes/transport/connection';
import type { LookContext, WalkTarget } from '@/probes/frame/kind';
import { ping } from '@/probes/transport/pinger';
import { addressesOf } from '@/probes/transport/resolve';
import { carryOut, rungOf } from '@/probes/frame/run';

const PING_LIMIT_MS = 2000;
const RUNG_LIMIT_MS = 3000;

type Step = Omit<Rung, 'rung'>;

async function walkName(target: WalkTarget, context: LookContext): Promise<Step & { addresses: string[] }> {
  if (isIP(target.host))
    return { label: 'name', result: 'fine', note: 'an address', addresses: [target.host] };
  let timer: NodeJS.Timeout | undefined;
  const limit = new Promise<never>((_, reject) => {
    timer = setTimeout(
      () => reject(Object.assign(new Error('no answer'), { code: 'ETIMEOUT' })),
      RUNG_LIMIT_MS,
    );
  });
  try {
    const addresses = await Promise.race([addressesOf(context.lookup, target.host), limit]);
    const more = addresses.length > 3 ? ` and ${addresses.length - 3} more` : '';
    return { label: 'name', result: 'fine', note: addresses.slice(0, 3).join(', ') + more, addresses };
  } catch (error) {
    const code = (error as NodeJS.ErrnoException).code ?? 'unknown';
    return { label: 'name', result: 'failed', note: code.toLowerCase(), addresses: [] };
  } finally {
    clearTimeout(timer);
    limit.catch(() => undefined);
  }
}

async function walkHost(address: string, context: LookContext): Promise<Step> {
  try {
    const result = await ping(address, {
      packets: 2,
      limitMs: () => PING_LIMIT_MS,
      signal: context.signal,
      turn: 'or-not',
    });
    return result.received > 0
      ? { label: 'host', result: 'fine', note: `ping ${formatMs(result.meanMs ?? 0)}` }
      : { label: 'host', result: 'failed', note: 'no answer to ping' };
  } catch (error) {
    const unreachable = (error as NodeJS.ErrnoException).code === 'ENETUNREACH';
    return unreachable
      ? { label: 'host', result: 'failed', note: 'no route' }
      : { label: 'host', result: 'unknown', note: 'this machine cannot ping' };
  }
}

/** Port and certificate, over one connection to the address. */
async function walkPort(target: WalkTarget & { port: number }, address: string, context: LookContext) {
  let connected = false;
  const finding = await carryOut(
    { ...context, timeoutMs: RUNG_LIMIT_MS },
    { host: address, port: target.port, timeoutMs: RUNG_LIMIT_MS },
    () => [],
    async (run) => {
      const socket = await openConnection(run, { host: address, port: target.port });
      connected = true;
      if (target.tls) await secureConnection(run, socket, { servername: target.servername ?? target.host });
    },
  );
  const note = finding.cause ? causeSentence(finding.cause, finding.detail) : undefined;
  const label = `port ${target.port}`;
  const port: Step = connected ? { label, result: 'fine' } : { label, result: 'failed', note };
  const broken: RungResult = connected ? 'failed' : 'not-reached';
  const certificate: Step = {
    label: 'certificate',
    result: finding.cause && finding.verdict === 'failed' ? broken : 'fine',
    ...(connected && note !== undefined ? { note } : {}),
  };
  return { port, certificate };
}

/**
 * Walks towards a target layer by layer after a look at it first failed: name, host (ping), port, certificate by
 * going there once more, reply and content from the look itself. Takes at most about five seconds.
 */
export async function walkLadder(
  target: WalkTarget,
  finding: FailedFinding,
  context: LookContext,
): Promise<Rung[]> {
  const { addresses, ...name } = await walkName(target, context);
  const rungs: Rung[] = [{ rung: 'name', ...name }];
  const add = (rung: RungName, step: Step) => rungs.push({ rung, ...step });
  const address = addresses[0];
  if (address !== undefined) {
    const { port } = target;
    const [host, way] = await Promise.all([
      walkHost(address, context),
      port === undefined ? null : walkPort({ ...target, port }, address, context),
    ]);
    add('host', host);
    if (way) add('port', way.port);
    if (way && target.tls) add('certificate', way.certificate);
  } else {
    add('host', { label: 'host', result: 'not-reached' });
    if (target.port !== undefined) add('port', { label: `port ${target.port}`, result: 'not-reached' });
  }
  const broke = rungOf(finding.cause, 'reply');
  for (const seen of finding.evidence?.ladder ?? []) {
    const known = rungs.find((rung) => rung.rung === seen.rung);
    if (!known) rungs.push(seen);
    // The look itself is what failed; that the same rung held a moment later is worth a note, not a pardon.
    else if (seen.result === 'failed' && known.result === 'fine') {
      known.result = 'failed';
      known.note = 'failed in the look, held when tried again';
    }
  }
  const at = rungs.findIndex((rung) => rung.rung === broke && rung.result === 'failed');
  return rungs.map((rung, i) =>
    at >= 0 && i > at && rung.result === 'fine' ? { ...rung, result: 'not-reached' } : rung,
  );
}
