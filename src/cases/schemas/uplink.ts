import { isIP } from 'node:net';
import { array, string } from 'yup';
import { strictObject } from './common';

const MOST = 5;

/** "host" or "host:port". */
function isAddress(typed: string): boolean {
  const match = /^(?:\[([0-9a-f:.]+)\]|([\w.-]+))(?::(\d{1,5}))?$/i.exec(typed);
  if (!match) return isIP(typed) !== 0;
  return match[3] === undefined || (Number(match[3]) >= 1 && Number(match[3]) <= 65535);
}

export const uplinkSchema = strictObject({
  addresses: array(
    string()
      .trim()
      .required('Expected a host or host:port, got nothing.')
      .max(260)
      .test(
        'address',
        ({ value }) =>
          `Expected a host or host:port such as 192.0.2.1 or gateway.ternferry.test:53, got “${String(value)}”.`,
        (value) => isAddress(value ?? ''),
      ),
  )
    .required('Expected a list of addresses, got nothing.')
    .max(MOST, `Expected at most ${MOST} addresses.`)
    .meta({
      description:
        'Up to five: the gateway, something outside. A host is asked by ping, host:port by a connection. While all fail, looks are not observed.',
    }),
});
