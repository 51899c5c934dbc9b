import { lookup as systemLookup } from 'node:dns';
import { isIP, type LookupFunction } from 'node:net';

/** Names given by hand, like a hosts file: "booking.ternferry.test=127.0.0.1,…". */
export function parseHosts(text: string): Map<string, string> {
  const hosts = new Map<string, string>();
  for (const entry of text.split(',').filter((part) => part.trim() !== '')) {
    const [name, address] = entry.split('=').map((part) => part.trim());
    if (!name || !address || isIP(address) === 0) {
      throw new Error(`Expected name=address pairs in LANTERN_HOSTS, got "${entry}".`);
    }
    hosts.set(name.toLowerCase(), address);
  }
  return hosts;
}

/** The system's name look-up, with names given by hand first. */
export function lookupWith(hosts: Map<string, string>): LookupFunction {
  return (hostname, options, callback) => {
    const address = hosts.get(hostname.toLowerCase());
    if (!address) {
      systemLookup(hostname, options, callback);
      return;
    }
    const family = isIP(address);
    if (options.all) setImmediate(callback, null, [{ address, family }]);
    else setImmediate(callback, null, address, family);
  };
}
