export const RECORD_TYPES = ['A', 'AAAA', 'CNAME', 'MX', 'TXT', 'NS', 'SRV', 'CAA', 'PTR'] as const;
export type RecordType = (typeof RECORD_TYPES)[number];

const SHAPES: Record<RecordType, [RegExp, string]> = {
  A: [/^\d{1,3}(\.\d{1,3}){3}$/, '192.0.2.10'],
  AAAA: [/^[0-9a-f:.]*:[0-9a-f:.]*$/i, '2001:db8::10'],
  CNAME: [/^\S+$/, 'site.ternferry.test'],
  NS: [/^\S+$/, 'ns1.ternferry.test'],
  PTR: [/^\S+$/, 'kiosk.ternferry.test'],
  MX: [/^\d+\s+\S+$/, '10 mail.ternferry.test'],
  SRV: [/^\d+\s+\d+\s+\d+\s+\S+$/, '10 5 5060 phone.ternferry.test'],
  CAA: [/^\d+\s+[a-z]+\s+\S+$/i, '0 issue "ca.example"'],
  TXT: [/^.*$/, 'v=spf1 mx -all'],
};

/** What is wrong with a record as a person wrote it, in words, or null. */
export function recordProblem(type: RecordType, text: string): string | null {
  const [shape, example] = SHAPES[type];
  return shape.test(text) ? null : `Expected a record such as “${example}”, got “${text}”.`;
}

/** An IPv6 address in one way of writing it (RFC 5952 is not needed to compare: eight full groups are). */
function fullAddress(text: string): string {
  const [head, tail] = text.toLowerCase().split('::');
  const groups = (part: string | undefined) => (part ? part.split(':') : []);
  const [before, after] = [groups(head), groups(tail)];
  const middle =
    tail === undefined ? [] : Array<string>(Math.max(0, 8 - before.length - after.length)).fill('0');
  return [...before, ...middle, ...after].map((g) => g.replace(/^0+(?=.)/, '')).join(':');
}

function plain(type: RecordType, text: string): string {
  if (type === 'TXT') return text.replace(/^"(.*)"$/, '$1');
  if (type === 'AAAA') return fullAddress(text.trim());
  // Names count in capitals or not and with or without the root's dot (RFC 4343, RFC 1034).
  return text.trim().toLowerCase().replace(/\s+/g, ' ').replace(/\.$/, '').replaceAll('"', '');
}

/** Whether two sets of records say the same; their order and how often each stands there do not count. */
export function sameRecords(type: RecordType, a: readonly string[], b: readonly string[]): boolean {
  const [left, right] = [new Set(a.map((r) => plain(type, r))), new Set(b.map((r) => plain(type, r)))];
  return left.size === right.size && [...left].every((record) => right.has(record));
}
