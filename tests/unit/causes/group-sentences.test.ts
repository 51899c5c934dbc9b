import { describe, expect, it } from 'vitest';
import { groupTroubles, TOGETHER_MS, type WellFacts } from '@/core/causes/group-troubles';
import type { TroubleFacts } from '@/core/causes/machines';
import { BARE_TROUBLE, T0 } from './trouble-facts';

/** Troubles with ids from 1 on, in the order in which they stand. */
function troubles(...some: Partial<TroubleFacts>[]): TroubleFacts[] {
  return some.map((one, i) => ({ ...BARE_TROUBLE, watchId: i + 1, name: `Watch ${i + 1}`, ...one }));
}

function told(some: TroubleFacts[], well: WellFacts[] = []): string[] {
  return groupTroubles(some, well).map(({ kind, sentence, advice }) => `${kind}: ${sentence} ${advice}`);
}

const web = 'web.ternferry.test';

describe('what is said of troubles that belong together', () => {
  it('a host that is off, unless another watch on it is well', () => {
    const two = troubles(
      { host: web, cause: 'port.timeout', hostAnswers: false },
      { host: web, cause: 'port.timeout' },
    );
    expect(told(two)).toEqual([
      `machine: Two watches on ${web} failed at once; the host itself does not answer. Look whether the host is on and its network is plugged in.`,
    ]);
    expect(told(two, [{ host: web, address: null }])[0]).toContain('the host is alive');
    expect(told(two, [{ host: 'other.ternferry.test', address: null }])[0]).toContain(
      'itself does not answer',
    );
  });

  it('one service of a living host, or several', () => {
    const one = troubles({ host: web, port: 443, hostAnswers: true }, { host: web, port: 443 });
    expect(told(one)).toEqual([
      `machine: Two watches on ${web} failed at once; the host is alive, so the service on port 443 is the likely cause. Look at the service on port 443 and at its log.`,
    ]);
    const several = troubles({ host: web, port: 443, hostAnswers: true }, { host: web, port: 25 });
    expect(told(several)).toEqual([
      `machine: Two watches on ${web} failed at once; the host is alive, but several of its services fail. Look at the host: a full disk, no memory left, or a restart are the usual reasons.`,
    ]);
    const portless = troubles({ host: web, hostAnswers: true }, { host: web });
    expect(told(portless)[0]).toContain('several of its services fail');
    const unsure = troubles({ host: web, port: 443 }, { host: web, port: 443 });
    expect(told(unsure)[0]).toMatch(new RegExp(`^machine: Two watches on ${web} failed at once\\. `));
  });

  it('several names that lead to one address, as only a trouble of another time tells', () => {
    const later = T0 + TOGETHER_MS + 1;
    const mail = 'mail.ternferry.test';
    const found = (address: string) =>
      told(
        troubles(
          { host: web },
          { host: mail },
          { host: web, address, began: later },
          { host: mail, address, began: later + later - T0 },
        ),
      );
    expect(found('192.0.2.7')).toEqual([
      'machine: Two watches with different names lead to 192.0.2.7 and failed at once. Look at the machine behind that address: it serves all of them.',
    ]);
    // The machine goes by the name of a host where that comes before its address.
    expect(found('zone.ternferry.test')).toEqual([
      'machine: Two watches with different names lead to one machine and failed at once. Look at the machine behind them: it serves all of them.',
    ]);
  });

  it('several names on one address, with or without others that are well there', () => {
    const two = troubles(
      { host: web, address: '192.0.2.7' },
      { host: 'mail.ternferry.test', address: '192.0.2.7', began: T0 + 999 },
    );
    expect(told(two)).toEqual([
      'machine: Two watches with different names lead to 192.0.2.7 and failed at once. Look at the machine behind that address: it serves all of them.',
    ]);
    expect(told(two, [{ host: 'x.test', address: '192.0.2.7' }])[0]).toContain(
      'failed at once, while others there are well.',
    );
    expect(told(two, [{ host: 'x.test', address: '192.0.2.8' }])[0]).not.toContain('well');
    expect(
      told(two, [
        { host: 'x.test', address: '192.0.2.8' },
        { host: 'y.test', address: '192.0.2.7' },
      ])[0],
    ).toContain('are well');
  });

  it('a machine met by its name and by its number is one, and goes by its name', () => {
    const two = troubles({ host: '192.0.2.7', address: '192.0.2.7' }, { host: web, address: '192.0.2.7' });
    expect(told(two)[0]).toContain(`Two watches on ${web} failed`);
    const numbers = troubles({ host: 'fd00::7', address: 'fd00::7' }, { host: 'fd00::7', address: null });
    expect(told(numbers)[0]).toContain('Two watches on fd00::7 failed');
    // A chain of names and addresses, whichever way round they are met.
    const chain = troubles(
      { host: 'b.test', address: '192.0.2.2' },
      { host: 'c.test', address: '192.0.2.1' },
      { host: 'b.test', address: '192.0.2.1' },
    );
    expect(groupTroubles(chain, [])[0]!.watchIds).toEqual([1, 2, 3]);
    expect(groupTroubles(chain.toReversed(), [])[0]!.watchIds).toEqual([1, 2, 3]);
  });

  it('says how far apart they began, from a second on', () => {
    const apart = (ms: number) => told(troubles({ host: web }, { host: web, began: T0 + ms }))[0];
    expect(apart(999)).toContain('failed at once');
    expect(apart(1000)).toContain('failed within 1 s');
    expect(apart(TOGETHER_MS)).toContain('failed within 5 min');
    expect(apart(TOGETHER_MS + 1)).toBeUndefined();
  });

  it('a name server, this machine’s own or another', () => {
    const own = troubles(
      { cause: 'name.timeout', host: 'a.test' },
      { cause: 'name.timeout', host: 'b.test' },
    );
    expect(told(own)).toEqual([
      'resolver: Two watches had no answer from this machine’s name server, at once; what they look at may be well. Look at the name server this machine asks (/etc/resolv.conf), and at the way there.',
    ]);
    const other = troubles(
      { cause: 'name.refused', host: 'a.test', resolver: '192.0.2.53' },
      { cause: 'name.server-failed', host: 'a.test', resolver: '192.0.2.53' },
    );
    expect(told(other)).toEqual([
      'resolver: Two watches had no answer from the name server 192.0.2.53, at once; what they look at may be well. Look whether 192.0.2.53 is on and answers on port 53.',
    ]);
  });

  it('one zone whose server fails is that zone’s matter; two zones are the resolver’s', () => {
    const failed = { cause: 'name.server-failed' } as const;
    const one = troubles({ ...failed, host: 'a.ternferry.test' }, { ...failed, host: 'b.ternferry.test' });
    expect(told(one)).toEqual([
      'name: Two watches cannot find their names under ternferry.test, at once. Look at the name server of ternferry.test, and whether the domain was renewed.',
    ]);
    const two = troubles({ ...failed, host: 'a.ternferry.test' }, { ...failed, host: 'a.harbour.test' });
    expect(groupTroubles(two, [])[0]!.kind).toBe('resolver');
    const bare = troubles({ ...failed, host: 'ternferry.test' }, { ...failed, host: 'www.ternferry.test' });
    expect(groupTroubles(bare, [])[0]!.kind).toBe('name');
    expect(groupTroubles(troubles({ ...failed, host: null }, { ...failed, host: null }), [])).toEqual([]);
  });

  it('what others lean on, one or two of it', () => {
    const sites = [{ cause: 'reply.status' as const }, { cause: 'reply.status' as const }];
    const one = troubles({ name: 'Bookings', carries: true }, ...sites);
    expect(told(one)).toEqual([
      'carrier: Bookings failed at once with two watches that are answered, but wrongly; it is the likely cause. Look at Bookings first; if the rest follows, let it rest on it.',
    ]);
    const two = troubles({ name: 'Bookings', carries: true }, { name: 'Cache', carries: true }, ...sites);
    expect(told(two)[0]).toContain('Bookings and Cache failed at once with two watches');
    expect(told(two)[0]).toMatch(/they are the likely cause\. .*let it rest on them\.$/);
    expect(told(troubles({ carries: true }, { carries: true }, sites[0]!))).toEqual([]);
    expect(told(troubles(...sites, ...sites))).toEqual([]);
  });

  it('a private network, from three silent hosts on', () => {
    const silent = (address: string, rest: Partial<TroubleFacts> = {}): Partial<TroubleFacts> => ({
      cause: 'port.timeout',
      host: address,
      address,
      ...rest,
    });
    const of = (...ends: number[]) => ends.map((end) => silent(`192.168.7.${end}`));
    expect(told(troubles(...of(1, 2, 3)))).toEqual([
      'network: Three hosts in the network 192.168.7.x went silent at once. Look at what they share: the router, a switch, the line or the power.',
    ]);
    expect(told(troubles(...of(1, 2)))).toEqual([]);
    expect(told(troubles(...of(1, 2), silent('192.168.7.3', { hostAnswers: true })))).toEqual([]);
    expect(told(troubles(...of(1, 2), silent('192.168.7.3', { cause: 'reply.status' })))).toEqual([]);
    for (const cause of ['host.silent', 'datagram.silent'] as const) {
      expect(told(troubles(...of(1, 2), silent('192.168.7.3', { cause })))).toHaveLength(1);
    }
    const nets: [string, string | null][] = [
      ['10.1.2', '10.1.2.x'],
      ['172.16.0', '172.16.0.x'],
      ['172.29.0', '172.29.0.x'],
      ['172.31.9', '172.31.9.x'],
      ['172.15.0', null],
      ['172.32.0', null],
      ['110.1.2', null],
      ['192.0.2', null],
    ];
    for (const [net, name] of nets) {
      const [sentence] = told(troubles(...[1, 2, 3].map((end) => silent(`${net}.${end}`))));
      if (name === null) expect(sentence, net).toBeUndefined();
      else expect(sentence, net).toContain(`the network ${name} went silent`);
    }
    expect(told(troubles(...[1, 2, 3].map((n) => silent(`fd00:0:0:1::${n}`))))[0]).toContain('fd00:0:0:1::');
    expect(told(troubles(...[1, 2, 3].map((n) => silent(`FC00:0:0:1::${n}`))))).toHaveLength(1);
    expect(told(troubles(...[1, 2, 3].map((n) => silent(`2001:db8:fd:1::${n}`))))).toEqual([]);
    expect(told(troubles(...[1, 2, 3].map((n) => silent(`fe80:0:0:1::${n}`))))).toEqual([]);
  });

  it('what rests on another, by the lowest that fails', () => {
    const some = troubles({ name: 'Router' }, { restsOn: [1] }, { restsOn: [2, 1] });
    expect(groupTroubles(some, [])).toEqual([
      {
        kind: 'upstream',
        upstream: 1,
        watchIds: [1, 2, 3],
        sentence: 'Router is in trouble, and two watches rest on it.',
        advice: 'Look at Router first; the rest should follow.',
      },
    ]);
    expect(told(troubles({ name: 'Router' }, { restsOn: [1, 9] }))[0]).toContain('one watch rests on it');
    expect(told(troubles({ restsOn: [1] }, {}))).toEqual([]);
    const late = (ms: number) => told(troubles({ began: T0 + ms }, { restsOn: [1] }));
    expect(late(TOGETHER_MS)).toHaveLength(1);
    expect(late(TOGETHER_MS + 1)).toHaveLength(0);
  });

  it('each watch once: what is taken by a surer way is not told again', () => {
    const shared = { host: web, cause: 'tls.expired' as const, certificate: 'ab:cd' };
    const groups = groupTroubles(troubles(shared, shared, { host: web }), []);
    expect(groups.map(({ kind, watchIds }) => [kind, watchIds])).toEqual([['certificate', [1, 2]]]);
  });

  it('in the order in which they began, then of their ids', () => {
    const some = troubles({ host: web, began: T0 + 5 }, { host: web }, { host: web });
    expect(groupTroubles(some.toReversed(), [])[0]!.watchIds).toEqual([2, 3, 1]);
  });
});
