import { lookup, type LookupAddress } from 'node:dns';
import { BlockList, isIPv6, type LookupFunction } from 'node:net';
import { Agent } from 'undici';

/** What is not the open web: RFC 6890 and its successors (IANA special-purpose registries). */
const NEAR = new BlockList();
for (const [network, prefix] of [
  ['0.0.0.0', 8],
  ['10.0.0.0', 8],
  ['100.64.0.0', 10],
  ['127.0.0.0', 8],
  ['169.254.0.0', 16],
  ['172.16.0.0', 12],
  ['192.0.0.0', 24],
  ['192.168.0.0', 16],
  ['198.18.0.0', 15],
  ['224.0.0.0', 3],
] as const) {
  NEAR.addSubnet(network, prefix, 'ipv4');
}
for (const [network, prefix] of [
  ['::', 127],
  ['64:ff9b::', 96],
  ['fc00::', 7],
  ['fe80::', 10],
  ['ff00::', 8],
  ['2002::', 16],
] as const) {
  NEAR.addSubnet(network, prefix, 'ipv6');
}

/** Whether an address belongs to this machine, or to a network that is not the open web. */
export function isNear(address: string): boolean {
  const mapped = /^::ffff:(\d+\.\d+\.\d+\.\d+)$/i.exec(address)?.[1];
  if (mapped) return NEAR.check(mapped, 'ipv4');
  return NEAR.check(address, isIPv6(address) ? 'ipv6' : 'ipv4');
}

type Resolve = (
  name: string,
  options: { all: true; family?: number | 'IPv4' | 'IPv6' | undefined },
  done: (error: NodeJS.ErrnoException | null, addresses: LookupAddress[]) => void,
) => void;

/** Looks names up as ever, and knows none that leads into a network of ours. */
export function openWebLookup(resolve: Resolve = lookup): LookupFunction {
  return (name, { all, family }, done) => {
    resolve(name, { all: true, family }, (error, addresses) => {
      if (error) return done(error, []);
      const open = addresses.filter(({ address }) => !isNear(address));
      const [first] = open;
      if (!first) {
        const refusal = new Error(`${name} is not on the open web`) as NodeJS.ErrnoException;
        refusal.code = 'it is not on the open web';
        return done(refusal, []);
      }
      if (all) return done(null, open);
      done(null, first.address, first.family);
    });
  };
}

/** Speaks to the open web alone, whatever a stranger's name turns out to stand for. */
export const OPEN_WEB = new Agent({ connect: { lookup: openWebLookup() } });
