import * as f from '@/core/settings/fields';
import { object } from 'yup';
import { formatDuration, formatMs } from '@/core/time/duration';
import { checkedBy, type LookContext, type ProbeKind } from '@/probes/frame/kind';
import { ping as sendPing } from '@/probes/transport/pinger';
import { resolveFor } from '@/probes/transport/resolve';
import { carryOut } from '@/probes/frame/run';
import * as s from '@/probes/fields/schema';

interface PingSettings {
  host: string;
  packets: number;
  mostLossPercent: number;
  mostMs: number | null;
}

const schema = object({
  host: s.host(),
  packets: s.someNumber('Packets in one look.', 1, 20, 3),
  mostLossPercent: s.someNumber('Most packets that may be lost, in percent.', 0, 99, 50),
  mostMs: s.optionalNumber('The longest mean round trip in milliseconds.', 1, 60_000),
});

function look(given: PingSettings, context: LookContext) {
  const settings = { ...ping.defaults, ...given };
  const { host, packets, mostLossPercent, mostMs } = settings;
  return carryOut(
    context,
    { host, port: 0, timeoutMs: context.timeoutMs },
    () => [
      ['name', 'name'],
      ['host', 'host'],
    ],
    async (run) => {
      const address = await resolveFor(run, host);
      // The program's own limit comes before the look's, so that its figures are read.
      // Time spent waiting for its turn is this machine's, not the host's.
      run.whenTimeIsUp = () => ({ cause: 'look.no-ping', detail: { reason: 'too many others wait' } });
      const limitMs = () => {
        run.whenTimeIsUp = null;
        return run.leftMs - 500;
      };
      const result = await sendPing(address, { packets, limitMs, signal: run.signal });
      run.lap('connect', 'connect');
      const lost = Math.round((1 - result.received / Math.max(1, result.sent)) * 100);
      run.fact('packets', `${result.received} of ${result.sent} came back`);
      // What is measured is the way there and back, not how long the program ran.
      run.tookMs = result.meanMs;
      if (result.meanMs !== null) run.fact('round trip', formatMs(result.meanMs));
      if (result.received === 0) run.fail('host.silent', { host });
      if (lost > mostLossPercent) run.fail('host.loss', { host, lost, limit: mostLossPercent });
      if (mostMs !== null && result.meanMs! > mostMs) {
        run.fail('host.far', { host, took: formatMs(result.meanMs!), limit: formatMs(mostMs) });
      }
    },
  );
}

export const ping: ProbeKind<PingSettings> = {
  id: 'ping',
  title: 'ping',
  help: 'Asks a host whether it is there (ICMP echo): a router, a printer, a camera.',
  ...checkedBy<PingSettings>(schema),
  fields: [
    f.text('host', 'Host', 'A name or an address.', { placeholder: 'router.ternferry.test' }),
    f.number('packets', 'Packets in one look', 'From 1 to 20.', { shared: true, extra: 'Limits' }),
    f.number('mostLossPercent', 'Most loss, in percent', 'More than this fails. All lost always fails.', {
      shared: true,
      extra: 'Limits',
    }),
    f.number(
      'mostMs',
      'Longest round trip, in milliseconds',
      'The mean of one look. Leave empty for no limit.',
      { shared: true, extra: 'Limits' },
    ),
  ],
  hostOf: (settings) => settings.host,
  targetOf: (settings) => settings.host,
  nameOf: (settings) => `${settings.host} (ping)`,
  walkTo: ({ host }) => ({ host }),
  verdictSentence: ({ packets, mostLossPercent, mostMs }, timeoutMs) =>
    `Fails when more than ${mostLossPercent} % of ${packets} packets are lost within ${formatDuration(timeoutMs)}` +
    `${mostMs === null ? '' : `, or when a round trip takes more than ${mostMs} ms on average`}.`,
  look,
};
