import { createSocket } from 'node:dgram';
import packet, { type Answer, type Packet } from 'dns-packet';
import { bindDatagrams } from './listener';
import { PracticeService, type Opened } from './service';

const RECORDS: Answer[] = [
  { type: 'A', name: 'ternferry.test', ttl: 300, data: '192.0.2.10' },
  { type: 'A', name: 'ternferry.test', ttl: 300, data: '192.0.2.11' },
  { type: 'AAAA', name: 'ternferry.test', ttl: 300, data: '2001:db8::10' },
  { type: 'CNAME', name: 'www.ternferry.test', ttl: 300, data: 'ternferry.test' },
  { type: 'MX', name: 'ternferry.test', ttl: 300, data: { preference: 10, exchange: 'mail.ternferry.test' } },
  { type: 'TXT', name: 'ternferry.test', ttl: 300, data: ['v=spf1 mx ', '-all'] },
  { type: 'NS', name: 'ternferry.test', ttl: 300, data: 'ns1.ternferry.test' },
  {
    type: 'SRV',
    name: '_imaps._tcp.ternferry.test',
    ttl: 300,
    data: { priority: 5, weight: 1, port: 993, target: 'mail.ternferry.test' },
  },
  { type: 'CAA', name: 'ternferry.test', ttl: 300, data: { flags: 0, tag: 'issue', value: 'ca.example' } },
  { type: 'PTR', name: '10.2.0.192.in-addr.arpa', ttl: 300, data: 'ternferry.test' },
  ...Array.from({ length: 100 }, (_, i): Answer => ({
    type: 'A',
    name: 'many.ternferry.test',
    ttl: 300,
    data: `192.0.2.${100 + (i % 150)}`,
  })),
];

/** Response codes (RFC 1035, 4.1.1) stand in the low bits of the flags. */
const CODES: Record<string, number> = { 'server fails': 2, 'no such name': 3, refuses: 5 };

/** A name server for ternferry.test. */
export class PracticeNames extends PracticeService {
  readonly modes = [
    'fine',
    'stopped',
    'silent',
    'server fails',
    'no such name',
    'refuses',
    'other address',
  ] as const;

  private answer(query: Packet): Packet {
    const [question] = query.questions ?? [];
    const base = { id: query.id, type: 'response' as const, questions: query.questions };
    const code = CODES[this.mode];
    if (code !== undefined || !question) return { ...base, flags: code ?? 1 };
    const named = RECORDS.filter((record) => record.name === question.name.toLowerCase());
    const found = named.filter((record) => record.type === question.type || record.type === 'CNAME');
    const answers = found.map((record) =>
      this.mode === 'other address' && record.type === 'A' ? { ...record, data: '198.51.100.66' } : record,
    );
    return { ...base, flags: named.length === 0 ? 3 : 0, answers };
  }

  protected async open(port: number): Promise<Opened> {
    const socket = createSocket('udp4');
    socket.on('message', (message, from) => {
      if (this.mode !== 'silent')
        socket.send(packet.encode(this.answer(packet.decode(message))), from.port, from.address);
    });
    return bindDatagrams(socket, port);
  }
}
