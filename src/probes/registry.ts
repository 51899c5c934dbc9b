import type { ProbeKind } from './kind';
import { port } from './port';
import { web } from './web';

/** Every kind of probe. A new one is one file and one line here. */
const KINDS = [web, port] as unknown as ProbeKind<object>[];

export function probeKinds(): readonly ProbeKind<object>[] {
  return KINDS;
}

export function probeKind(id: string): ProbeKind<object> | undefined {
  return KINDS.find((kind) => kind.id === id);
}
