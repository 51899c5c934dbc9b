import type { Finding } from '@/core/causes/finding';
import type { LookContext } from './kind';
import { carryOut, certificateRung, type PlannedRung, type Run } from './run';

/** The rungs of a look above the port: the certificate where TLS is spoken, then what the kind goes over. */
interface Above {
  tls?: boolean;
  rungs?: readonly (PlannedRung | null)[];
}

/** Carries out a look at a port of a host. A rung that is null is not part of this one. */
export function lookAtPort(
  context: LookContext,
  { host, port }: { host: string; port: number },
  { tls = false, rungs = [] }: Above,
  steps: (run: Run) => Promise<void>,
): Promise<Finding> {
  const ladder: PlannedRung[] = [
    ['name', 'name'],
    ['port', `port ${port}`],
    ...certificateRung(tls),
    ...rungs.filter((rung) => rung !== null),
  ];
  return carryOut(context, { host, port, timeoutMs: context.timeoutMs }, () => ladder, steps);
}
