import type { LookupFunction } from 'node:net';
import type { Evidence, FailedFinding, Finding, Rung } from '@/core/causes/finding';
import type { ProbeConfig } from '@/core/settings/watch-config';
import type { OtherWatch, ProbeKind } from '@/probes/frame/kind';
import { Blanker } from '@/core/text/secret-forms';
import { probeKind, secretsOf } from '@/probes/kinds/registry';
import { walkLadder } from '@/probes/diagnosis/walk';
import { openSecrets, type Vault } from '@/store/db/vault';

export interface LookRunnerOptions {
  now: () => number;
  monotonic: () => number;
  lookup: LookupFunction;
  signal: AbortSignal;
  vault: Vault;
  other: (id: number) => OtherWatch | null;
}

const opened = new WeakMap<object, ProbeConfig['settings']>();

/** Settings with their secrets open; opened once for as long as they stay as they are. */
function openOnce(vault: Vault, settings: ProbeConfig['settings']): ProbeConfig['settings'] {
  const open = opened.get(settings) ?? openSecrets(vault, settings);
  opened.set(settings, open);
  return open;
}

const blankers = new WeakMap<object, Blanker>();

/** What is secret in settings: each such field, its lines, and what stands behind their names. */
function secretsIn(kind: ProbeKind<object>, settings: ProbeConfig['settings']): string[] {
  const fields = settings as Record<string, unknown>;
  const whole = secretsOf(kind).map((name) => String(fields[name] ?? ''));
  const lines = whole.flatMap((text) => text.split('\n').map((line) => line.trim()));
  const behind = lines.map((line) => /^[^\s:=]+\s*[:=]\s*(.+)$/.exec(line)?.[1] ?? '');
  const { user, password } = fields;
  const signIn = user && password ? [`${String(user)}:${String(password)}`] : [];
  return [...whole, ...lines, ...behind, ...signIn];
}

/** A finding without any secret that was used for it, in whatever form the other side repeats it. */
function withoutSecrets(
  kind: ProbeKind<object>,
  settings: ProbeConfig['settings'],
  finding: Finding,
): Finding {
  let blanker = blankers.get(settings);
  if (!blanker) blankers.set(settings, (blanker = new Blanker(secretsIn(kind, settings))));
  // What later looks compare with has to stay comparable.
  return blanker.isIdle ? finding : blanker.deep(finding, ['baseline', 'cause', 'verdict']);
}

/** Runs one look. Whatever goes wrong in here is a finding too, marked as this machine's fault. */
export async function runLook(
  kind: string,
  config: ProbeConfig,
  options: LookRunnerOptions,
  before?: Evidence,
): Promise<Finding> {
  const at = options.now();
  const started = options.monotonic();
  try {
    const probe = probeKind(kind);
    if (!probe) throw new Error(`there is no kind of probe called "${kind}"`);
    const settings = openOnce(options.vault, config.settings);
    if (probe.prepare) await probe.prepare(settings);
    const looked = await probe.look(settings, { ...options, timeoutMs: config.timeout * 1000, before });
    const finding = withoutSecrets(probe, settings, looked);
    return before?.baseline === undefined ? finding : keepBaseline(finding, before);
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

/** A look that did not come as far as its comparison leaves what it compares with as it was. */
function keepBaseline(finding: Finding, { baseline, seenSince }: Evidence): Finding {
  if (finding.evidence?.baseline !== undefined) return finding;
  return { ...finding, evidence: { ...finding.evidence, baseline, seenSince } };
}

/** The layers towards a target after a first failure; none where its kind has no way of its own. */
export async function runWalk(
  kind: string,
  config: ProbeConfig,
  finding: FailedFinding,
  options: LookRunnerOptions,
): Promise<Rung[] | undefined> {
  const target = probeKind(kind)?.walkTo(config.settings);
  if (!target) return undefined;
  return walkLadder(target, finding, { ...options, timeoutMs: config.timeout * 1000 });
}
