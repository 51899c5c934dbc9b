import { lookAtPort } from '@/probes/frame/look-at-port';
import * as f from '@/core/settings/fields';
import { createSocket } from 'node:dgram';
import { isIP } from 'node:net';
import { object } from 'yup';
import { formatDuration } from '@/core/time/duration';
import { hostFields } from '@/probes/fields/host-fields';
import { checkedBy, type LookContext, type ProbeKind } from '@/probes/frame/kind';
import { excerptText } from '@/probes/frame/excerpt';
import { bytesOf } from './port';
import { type Run } from '@/probes/frame/run';
import { resolveFor } from '@/probes/transport/resolve';
import * as s from '@/probes/fields/schema';

interface DatagramSettings {
  host: string;
  port: number;
  send: string;
  expect: string;
  silenceIsFine: boolean;
}

const schema = object({
  host: s.host(),
  port: s.port(),
  send: s.text('Text to send; \\r, \\n, \\t and \\xNN stand for single bytes.', 1200),
  expect: s.text('Text that must come back; empty for any answer.', 1000),
  silenceIsFine: s.flag('No answer is fine; only a refusal fails.'),
});

/** Silence is told this long before the time is up, so that it is not taken for a slow name server. */
const MARGIN = 0.9;

function exchange(run: Run, address: string, settings: DatagramSettings): Promise<Buffer | null> {
  return new Promise((resolve, reject) => {
    const socket = createSocket(isIP(address) === 6 ? 'udp6' : 'udp4');
    const timer = setTimeout(() => end(() => resolve(null)), run.leftMs * MARGIN);
    let release: () => void = () => undefined;
    const onEnd = () => end(() => resolve(null));
    const end = (settle: () => void) => {
      clearTimeout(timer);
      release();
      socket.removeAllListeners();
      socket.on('error', () => undefined);
      socket.close();
      settle();
    };
    release = run.onEnd(onEnd);
    socket.on('error', (error) => end(() => reject(error)));
    socket.on('message', (message) => end(() => resolve(message)));
    // A connected socket hears of a closed port (ICMP port unreachable, RFC 1122, 4.1.3.3).
    socket.connect(settings.port, address, () => {
      socket.send(bytesOf(settings.send), (error) => error && end(() => reject(error)));
    });
  });
}

function look(given: DatagramSettings, context: LookContext) {
  const settings = { ...datagram.defaults, ...given };
  const { host, port, expect, silenceIsFine } = settings;
  return lookAtPort(context, settings, { rungs: [['content', 'answer']] }, async (run) => {
    const address = await resolveFor(run, host);
    const answer = await exchange(run, address, settings);
    run.lap('firstByte', 'reply');
    if (answer === null) {
      run.fact('answer', 'none');
      if (silenceIsFine) return;
      return run.fail('datagram.silent', { port, limit: formatDuration(context.timeoutMs) });
    }
    const text = answer.toString('utf8');
    run.evidence.bytes = answer.length;
    if (expect === '' || answer.includes(bytesOf(expect))) return;
    run.evidence.excerpt = { body: excerptText(answer, text) };
    run.fail('answer.differs', {
      port,
      got: text.replace(/\s+/g, ' ').trim().slice(0, 120),
      expected: `“${expect}”`,
    });
  });
}

export const datagram: ProbeKind<DatagramSettings> = {
  id: 'datagram',
  title: 'datagram',
  help: 'Sends one UDP packet and waits for the answer. UDP confirms nothing: a refusal is certain, silence is not.',
  ...checkedBy<DatagramSettings>(schema),
  fields: [
    ...hostFields('tidegauge.ternferry.test', '5683'),
    f.text('send', 'Text to send', 'Something the service answers to; \\xNN stands for a byte.', {
      placeholder: 'LEVEL?',
    }),
    f.text('expect', 'This must come back', 'Leave empty if any answer will do.', { placeholder: 'cm' }),
    f.toggle(
      'silenceIsFine',
      'Silence is fine',
      'For services that never answer. Then only “port closed” fails: a host that is off, and a firewall that drops, look fine.',
    ),
  ],
  hostOf: (settings) => settings.host,
  targetOf: (settings) => `${settings.host} UDP port ${settings.port}`,
  nameOf: (settings) => `${settings.host}:${settings.port} (UDP)`,
  walkTo: ({ host }) => ({ host }),
  verdictSentence: ({ port, silenceIsFine, expect }, timeoutMs) =>
    silenceIsFine
      ? `Fails only when the host says that UDP port ${port} is closed; silence counts as fine.`
      : `Fails when no answer${expect ? ` with “${expect}”` : ''} comes from UDP port ${port} within ${formatDuration(timeoutMs)}.`,
  look,
};
