import { isIP } from 'node:net';
import type { Run } from '@/probes/frame/run';

/** The first address of a host, noted on the run with the time it took; throws the look-up's own error. */
export async function resolveFor(run: Run, host: string, family?: 4 | 6): Promise<string> {
  if (isIP(host)) {
    run.stage = 'connect';
    run.target.address = host;
    return host;
  }
  run.stage = 'name';
  const addresses = await addressesOf(run.lookup, host, family);
  run.evidence.addresses = addresses.slice(0, 8);
  run.target.address = addresses[0]!;
  run.lap('name', 'connect');
  return addresses[0]!;
}

/** All addresses of a name, in the resolver's order; at least one. */
export function addressesOf(
  lookup: Run['context']['lookup'],
  host: string,
  family?: 4 | 6,
): Promise<string[]> {
  return new Promise((resolve, reject) => {
    lookup(host, { all: true, family }, (error, found) => {
      if (error) return reject(error);
      const addresses = (Array.isArray(found) ? found : [{ address: String(found) }]).map((a) => a.address);
      if (addresses.length > 0) resolve(addresses);
      else reject(Object.assign(new Error('no address'), { code: 'ENOTFOUND' }));
    });
  });
}
