import { expect } from 'vitest';
import { causeSentence } from '@/core/causes/causes';
import type { Finding } from '@/core/causes/finding';
import type { LookContext } from '@/probes/frame/kind';
import { lookupWith } from '@/probes/transport/lookup';
import { probeKind } from '@/probes/kinds/registry';

export function lookContext(rest: Partial<LookContext> = {}): LookContext {
  return {
    now: () => Date.now(),
    monotonic: () => performance.now(),
    lookup: lookupWith(new Map([['site.ternferry.test', '127.0.0.1']])),
    timeoutMs: 5000,
    signal: new AbortController().signal,
    ...rest,
  };
}

/** Checks settings as the API would, then looks once; a failed look must have a sentence without gaps. */
export async function lookAt(
  kindId: string,
  settings: object,
  rest: Partial<LookContext> = {},
): Promise<Finding> {
  const kind = probeKind(kindId)!;
  const valid = (await kind.schema.validate(settings)) as object;
  // What is loaded first is no part of the look's time.
  await kind.prepare?.(valid);
  const finding = await kind.look(valid, lookContext(rest));
  if (finding.cause) expect(causeSentence(finding.cause, finding.detail)).not.toContain('…');
  expect(finding.verdict === 'fine').toBe(finding.cause === undefined);
  return finding;
}

/** "fine", or the cause: what a look came to, in a word. */
export async function came(
  kindId: string,
  settings: object,
  rest: Partial<LookContext> = {},
): Promise<string> {
  return (await lookAt(kindId, settings, rest)).cause ?? 'fine';
}
