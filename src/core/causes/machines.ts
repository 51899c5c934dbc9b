import type { CauseCode } from './causes';
import type { Rung } from './finding';

/** What is known of one watch in trouble, as far as it may share its cause with others. */
export interface TroubleFacts {
  watchId: number;
  name: string;
  /** When it began to fail, ms since 1970. */
  began: number;
  cause: CauseCode;
  host: string | null;
  port: number | null;
  /** Where it was found, or what it was given where it was given a number instead of a name. */
  address: string | null;
  /** The name server it was told to ask; null for the one of this machine, or where it asks none. */
  resolver: string | null;
  /** What others stand on without saying so: a database, a broker, a store. */
  carries: boolean;
  /** Fingerprint of the certificate it was shown. */
  certificate: string | null;
  /** Everything it rests on, the nearest first. */
  restsOn: readonly number[];
  /** Whether its host answered ping when the ladder was walked; null where that is not known. */
  hostAnswers: boolean | null;
}

/** What of that a message carries along, so that troubles told together can name what they share. */
export type SharedFacts = Pick<
  TroubleFacts,
  'host' | 'port' | 'resolver' | 'carries' | 'address' | 'certificate' | 'hostAnswers'
>;

/** What of a look's evidence tells what it shares with others. */
export interface SeenThere {
  address?: string;
  certificate?: { fingerprint?: string };
  walk?: readonly Pick<Rung, 'rung' | 'result'>[];
}

/** One key for all that is the same machine; null where a trouble says nothing of one. */
export type MachineOf = (trouble: TroubleFacts) => string | null;

/** Troubles that say nothing of the machine behind a name. */
const NO_MACHINE: ReadonlySet<string> = new Set(['name', 'record']);

/**
 * For each trouble one key for all that is the same machine: a host, the address it was found at, and every other
 * host found there. A host with several addresses, or an address with several names, is one machine.
 */
export function machines(troubles: readonly TroubleFacts[]): MachineOf {
  const above = new Map<string, string>();
  const rootOf = (one: string): string => {
    const next = above.get(one);
    if (next === undefined || next === one) return one;
    const root = rootOf(next);
    above.set(one, root);
    return root;
  };
  const own = (trouble: TroubleFacts) =>
    NO_MACHINE.has(trouble.cause.split('.')[0]!) ? null : (trouble.address ?? trouble.host);
  for (const trouble of troubles) {
    const { host, address } = trouble;
    if (own(trouble) === null || host === null || address === null) continue;
    const [low, high] = [rootOf(host), rootOf(address)].sort();
    above.set(high!, low!);
  }
  return (trouble) => {
    const one = own(trouble);
    return one === null ? null : rootOf(one);
  };
}
