import { isKept, KEPT } from '@/core/settings/kept';
import type { ProbeKind } from '@/probes/frame/kind';
import { probeKind, secretsOf } from '@/probes/kinds/registry';
import type { WatchConfig } from '@/core/settings/watch-config';
import type { Watch } from '@/store/watches/watches';
import type { Vault } from '@/store/db/vault';

type Settings = Record<string, unknown>;

/** Settings as they may leave the server: a secret shows only that there is one. */
export function withoutSecrets(kind: ProbeKind<object> | undefined, settings: object): Settings {
  const shown: Settings = { ...settings };
  for (const name of kind ? secretsOf(kind) : []) if (shown[name]) shown[name] = KEPT;
  return shown;
}

/** The settings of a watch as they may leave the server. */
export function shownConfig({ kind, config }: Pick<Watch, 'kind' | 'config'>): WatchConfig {
  if (config.type !== 'probe') return config;
  return { ...config, settings: withoutSecrets(probeKind(kind), config.settings) };
}

/** Takes out the secrets that stay as they are; the schema sees none in their place. */
export function splitKept(kind: ProbeKind<object>, given: unknown): { settings: unknown; kept: string[] } {
  if (given === null || typeof given !== 'object') return { settings: given, kept: [] };
  const kept = secretsOf(kind).filter((name) => isKept((given as Settings)[name]));
  const rest = Object.entries(given).filter(([name]) => !kept.includes(name));
  return { settings: Object.fromEntries(rest), kept };
}

/** Seals new secrets, and puts those back that stay as they were. */
export function sealSecrets(
  kind: ProbeKind<object>,
  valid: object,
  kept: readonly string[],
  stored: object | null,
  vault: Vault,
): object {
  const sealed: Settings = { ...valid };
  for (const name of secretsOf(kind)) {
    sealed[name] = kept.includes(name)
      ? ((stored as Settings | null)?.[name] ?? '')
      : vault.seal(String(sealed[name] ?? ''));
  }
  return sealed;
}
