import type { CauseCode } from './causes';
import { formatDuration } from '@/core/time/duration';
import { capitalise, numberWord } from '@/core/text/words';
import { machines, type MachineOf, type TroubleFacts } from './machines';

/** What is known of a watch that is well. */
export interface WellFacts {
  host: string | null;
  address: string | null;
}

/** Watches whose troubles have a likely cause in common. */
export interface TroubleGroup {
  kind: 'upstream' | 'certificate' | 'resolver' | 'name' | 'machine' | 'carrier' | 'network';
  /** The watch below, where that is the cause; it is among `watchIds`. */
  upstream?: number;
  watchIds: number[];
  /** What they have in common, and since when. */
  sentence: string;
  /** Where to look first. */
  advice: string;
}

/** Troubles that begin further apart than this are not taken for one. */
export const TOGETHER_MS = 5 * 60_000;

interface Way {
  kind: TroubleGroup['kind'];
  /** What a trouble would share this way; null where it cannot. */
  key: (trouble: TroubleFacts, machineOf: MachineOf) => string | null;
  /** Whether those that share the key belong together indeed. */
  fits?: (group: readonly TroubleFacts[]) => boolean;
  /** This many at least; two different hosts in one network may be chance. */
  least: number;
  say: (
    group: TroubleFacts[],
    key: string,
    well: readonly WellFacts[],
  ) => { sentence: string; advice: string };
}

const layer = (trouble: TroubleFacts) => trouble.cause.split('.')[0];

/** The network of a private address (RFC 1918, RFC 4193), as its first three bytes or first four groups. */
function networkOf(address: string | null): string | null {
  if (address === null) return null;
  if (/^(10|192\.168|172\.(1[6-9]|2\d|3[01]))\./.test(address))
    return `${address.split('.').slice(0, 3).join('.')}.x`;
  return /^f[cd]/i.test(address) ? `${address.split(':').slice(0, 4).join(':')}::` : null;
}

/** A name without its first part: what its zone probably is. */
function zoneOf(host: string): string {
  const parts = host.split('.');
  return parts.length > 2 ? parts.slice(-2).join('.') : host;
}

function count(group: readonly TroubleFacts[]): string {
  return capitalise(numberWord(group.length));
}

function within(group: readonly TroubleFacts[]): string {
  const times = group.map((trouble) => trouble.began);
  const spread = Math.max(...times) - Math.min(...times);
  return spread < 1000 ? 'at once' : `within ${formatDuration(spread)}`;
}

/** No name server answered at all: that says nothing of the name asked for. */
const UNANSWERED: ReadonlySet<CauseCode> = new Set(['name.timeout', 'name.server-failed', 'name.refused']);
const OWN_RESOLVER = '';
/** A watch that is given a number instead of a name. */
const isNumber = (host: string) => /^[\d.]+$|:/.test(host);

/** Those of a group that may lean on what others carry. */
function leaning(group: readonly TroubleFacts[]): TroubleFacts[] {
  return group.filter((trouble) => !trouble.carries);
}

function sayResolver(group: TroubleFacts[], resolver: string): { sentence: string; advice: string } {
  const who = `${count(group)} watches had no answer from ${resolver === OWN_RESOLVER ? 'this machine’s name server' : `the name server ${resolver}`}`;
  return {
    sentence: `${who}, ${within(group)}; what they look at may be well.`,
    advice:
      resolver === OWN_RESOLVER
        ? 'Look at the name server this machine asks (/etc/resolv.conf), and at the way there.'
        : `Look whether ${resolver} is on and answers on port 53.`,
  };
}

/** That names lead to one machine may be known from a trouble that began at another time, and is in no group. */
function sayAddress(
  group: TroubleFacts[],
  machine: string,
  well: readonly WellFacts[],
): { sentence: string; advice: string } {
  const address = group.find((trouble) => trouble.address !== null)?.address ?? machine;
  const isKnown = isNumber(address);
  return {
    sentence:
      `${count(group)} watches with different names lead to ${isKnown ? address : 'one machine'} and failed ${within(group)}` +
      `${well.some((w) => w.address === address) ? ', while others there are well' : ''}.`,
    advice: `Look at the machine behind ${isKnown ? 'that address' : 'them'}: it serves all of them.`,
  };
}

function sayHost(
  group: TroubleFacts[],
  host: string,
  well: readonly WellFacts[],
): { sentence: string; advice: string } {
  const [first] = group;
  const who = `${count(group)} watches on ${host} failed ${within(group)}`;
  if (group.some((trouble) => trouble.hostAnswers === false) && !well.some((w) => w.host === host)) {
    return {
      sentence: `${who}; the host itself does not answer.`,
      advice: 'Look whether the host is on and its network is plugged in.',
    };
  }
  const onePort = first!.port !== null && group.every((trouble) => trouble.port === first!.port);
  const lives = group.some((trouble) => trouble.hostAnswers) || well.some((w) => w.host === host);
  if (onePort && lives) {
    return {
      sentence: `${who}; the host is alive, so the service on port ${first!.port} is the likely cause.`,
      advice: `Look at the service on port ${first!.port} and at its log.`,
    };
  }
  return {
    sentence: `${who}${lives ? '; the host is alive, but several of its services fail' : ''}.`,
    advice: 'Look at the host: a full disk, no memory left, or a restart are the usual reasons.',
  };
}

/** From the surest to the vaguest way in which troubles may belong together. */
const WAYS: readonly Way[] = [
  {
    kind: 'certificate',
    key: (trouble) => (layer(trouble) === 'tls' ? trouble.certificate : null),
    least: 2,
    say: (group) => ({
      sentence: `${count(group)} watches share one certificate, and it is what fails.`,
      advice: 'Renew or correct that one certificate, and load it wherever it is used.',
    }),
  },
  {
    kind: 'resolver',
    key: (trouble) => (UNANSWERED.has(trouble.cause) ? (trouble.resolver ?? OWN_RESOLVER) : null),
    least: 2,
    // One zone whose own server fails is answered for by every resolver in the same way.
    fits: (group) =>
      group.some((trouble) => trouble.cause !== 'name.server-failed') ||
      new Set(group.map((trouble) => zoneOf(trouble.host ?? ''))).size > 1,
    say: sayResolver,
  },
  {
    kind: 'name',
    key: (trouble) => (layer(trouble) === 'name' && trouble.host ? zoneOf(trouble.host) : null),
    least: 2,
    say: (group, zone) => ({
      sentence: `${count(group)} watches cannot find their names under ${zone}, ${within(group)}.`,
      advice: `Look at the name server of ${zone}, and whether the domain was renewed.`,
    }),
  },
  {
    kind: 'carrier',
    key: (trouble) => (trouble.carries || layer(trouble) === 'reply' ? '' : null),
    least: 3,
    fits: (group) => group.some((trouble) => trouble.carries) && leaning(group).length >= 2,
    say: (group) => {
      const names = group.filter((trouble) => trouble.carries).map((trouble) => trouble.name);
      const who = new Intl.ListFormat('en').format(names);
      const n = numberWord(leaning(group).length);
      return {
        sentence: `${who} failed ${within(group)} with ${n} watches that are answered, but wrongly; ${names.length === 1 ? 'it is' : 'they are'} the likely cause.`,
        advice: `Look at ${who} first; if the rest follows, let it rest on ${names.length === 1 ? 'it' : 'them'}.`,
      };
    },
  },
  {
    kind: 'machine',
    key: (trouble, machineOf) => machineOf(trouble),
    least: 2,
    say: (group, machine, well) => {
      const all = group.map((trouble) => trouble.host ?? trouble.address ?? machine);
      const names = all.filter((host) => !isNumber(host));
      const hosts = new Set(names.length > 0 ? names : all);
      return hosts.size === 1 ? sayHost(group, [...hosts][0]!, well) : sayAddress(group, machine, well);
    },
  },
  {
    kind: 'network',
    key: (trouble) =>
      (layer(trouble) === 'host' || layer(trouble) === 'port' || layer(trouble) === 'datagram') &&
      trouble.hostAnswers !== true
        ? networkOf(trouble.address)
        : null,
    least: 3,
    say: (group, network) => ({
      sentence: `${count(group)} hosts in the network ${network} went silent ${within(group)}.`,
      advice: 'Look at what they share: the router, a switch, the line or the power.',
    }),
  },
];

/** Splits troubles at gaps in time: each run begins within the window of its first. */
function runsInTime(troubles: readonly TroubleFacts[]): TroubleFacts[][] {
  const runs: TroubleFacts[][] = [];
  for (const trouble of [...troubles].sort((a, b) => a.began - b.began || a.watchId - b.watchId)) {
    const run = runs.at(-1);
    if (run && trouble.began - run[0]!.began <= TOGETHER_MS) run.push(trouble);
    else runs.push([trouble]);
  }
  return runs;
}

function byUpstream(troubles: readonly TroubleFacts[]): TroubleGroup[] {
  const inTrouble = new Map(troubles.map((trouble) => [trouble.watchId, trouble]));
  // A cause may be noticed a little after what follows from it, but not begin long after.
  const mayCause = (id: number, of: TroubleFacts) => {
    const below = inTrouble.get(id);
    return below !== undefined && below.began <= of.began + TOGETHER_MS;
  };
  const groups = new Map<number, number[]>();
  for (const trouble of troubles) {
    // The lowest one that fails is where it comes from.
    const root = trouble.restsOn.filter((id) => id !== trouble.watchId && mayCause(id, trouble)).at(-1);
    if (root !== undefined) groups.set(root, [...(groups.get(root) ?? []), trouble.watchId]);
  }
  return [...groups].map(([root, following]) => {
    const { name } = inTrouble.get(root)!;
    const n = following.length;
    return {
      kind: 'upstream',
      upstream: root,
      watchIds: [root, ...following],
      sentence: `${name} is in trouble, and ${n === 1 ? 'one watch rests' : `${numberWord(n)} watches rest`} on it.`,
      advice: `Look at ${name} first; the rest should follow.`,
    };
  });
}

/**
 * Which troubles belong together, and why: first those that rest on another one that was in trouble by then;
 * then those that began within five minutes of each other and share a certificate, a name server, a zone, a
 * database that others lean on, a machine or a network. Each watch is in one group at most; what stands alone is in none.
 */
export function groupTroubles(troubles: readonly TroubleFacts[], well: readonly WellFacts[]): TroubleGroup[] {
  const groups = byUpstream(troubles);
  const taken = new Set(groups.flatMap((group) => group.watchIds));
  for (const { kind, key, least, fits, say } of WAYS) {
    const byKey = new Map<string, TroubleFacts[]>();
    const free = troubles.filter((trouble) => !taken.has(trouble.watchId));
    let made: MachineOf | undefined;
    const machineOf: MachineOf = (trouble) => (made ??= machines(free))(trouble);
    for (const trouble of free) {
      const shared = key(trouble, machineOf);
      if (shared !== null) byKey.set(shared, [...(byKey.get(shared) ?? []), trouble]);
    }
    for (const [shared, all] of byKey) {
      for (const group of runsInTime(all)) {
        if (group.length < least || fits?.(group) === false) continue;
        const watchIds = group.map((trouble) => trouble.watchId);
        for (const id of watchIds) taken.add(id);
        groups.push({ kind, watchIds, ...say(group, shared, well) });
      }
    }
  }
  return groups;
}
