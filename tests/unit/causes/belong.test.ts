import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { groupTroubles, TOGETHER_MS } from '@/core/causes/group-troubles';
import type { TroubleFacts } from '@/core/causes/machines';
import { BARE_TROUBLE, T0 } from './trouble-facts';
import { effortOf } from '../effort';

let lastId = 0;

function trouble(name: string, rest: Partial<TroubleFacts> = {}): TroubleFacts {
  lastId += 1;
  return { ...BARE_TROUBLE, watchId: lastId, name, port: 443, ...rest };
}

const host = 'web.ternferry.test';

describe('troubles that belong together', () => {
  it('a web server died on a living host', () => {
    const group = groupTroubles(
      [
        trouble('Booking', { host, hostAnswers: true }),
        trouble('Timetable', { host, hostAnswers: true, began: T0 + 20_000 }),
      ],
      [],
    );
    expect(group).toMatchObject([
      {
        kind: 'machine',
        sentence: `Two watches on ${host} failed within 20 s; the host is alive, so the service on port 443 is the likely cause.`,
      },
    ]);
  });

  it('a neighbour on the same host that is well proves the host alive', () => {
    const two = [trouble('Booking', { host }), trouble('Timetable', { host })];
    expect(groupTroubles(two, [{ host, address: null }])[0]!.sentence).toContain('the host is alive');
    expect(groupTroubles(two, [])[0]!.sentence).not.toContain('alive');
  });

  it('several services of one living host', () => {
    const [group] = groupTroubles(
      [
        trouble('Booking', { host, hostAnswers: true }),
        trouble('Mail', { host, port: 25, hostAnswers: true }),
      ],
      [],
    );
    expect(group!.sentence).toContain('several of its services fail');
  });

  it('the host is gone', () => {
    const [group] = groupTroubles(
      ['port.timeout', 'host.silent', 'port.timeout'].map((cause, i) =>
        trouble(`w${i}`, { host, cause: cause as 'port.timeout', hostAnswers: false }),
      ),
      [],
    );
    expect(group).toMatchObject({
      kind: 'machine',
      sentence: `Three watches on ${host} failed at once; the host itself does not answer.`,
    });
  });

  it('the name is gone', () => {
    const groups = groupTroubles(
      [
        trouble('Booking', { host: 'booking.ternferry.test', cause: 'name.not-found' }),
        trouble('Rota', { host: 'rota.ternferry.test', cause: 'name.server-failed' }),
        trouble('Elsewhere', { host: 'site.elsewhere.test', cause: 'name.not-found' }),
      ],
      [],
    );
    expect(groups).toHaveLength(1);
    expect(groups[0]).toMatchObject({
      kind: 'name',
      sentence: expect.stringContaining('under ternferry.test') as string,
    });
  });

  it('the router is gone: hosts of one private network fall silent', () => {
    const silent = [1, 2, 3, 4].map((i) =>
      trouble(`host ${i}`, {
        host: `h${i}.ternferry.test`,
        address: `192.168.7.${i}`,
        cause: 'host.silent',
        hostAnswers: false,
        began: T0 + i * 10_000,
      }),
    );
    expect(groupTroubles(silent, [])).toMatchObject([
      { kind: 'network', sentence: 'Four hosts in the network 192.168.7.x went silent within 30 s.' },
    ]);
    expect(groupTroubles(silent.slice(0, 2), [])).toEqual([]);
  });

  it('the router is watched, and they rest on it', () => {
    const router = trouble('Router', { cause: 'host.silent', began: T0 + 200_000 });
    const others = [1, 2].map((i) => trouble(`w${i}`, { restsOn: [router.watchId] }));
    expect(groupTroubles([...others, router], [])).toEqual([
      {
        kind: 'upstream',
        upstream: router.watchId,
        watchIds: [router.watchId, others[0]!.watchId, others[1]!.watchId],
        sentence: 'Router is in trouble, and two watches rest on it.',
        advice: 'Look at Router first; the rest should follow.',
      },
    ]);
  });

  it('what it rests on is no cause when it began to fail long after', () => {
    const router = trouble('Router', { began: T0 + TOGETHER_MS + 1 });
    expect(groupTroubles([trouble('Booking', { restsOn: [router.watchId] }), router], [])).toEqual([]);
  });

  it('the database under two sites', () => {
    const database = trouble('Booking database', { cause: 'sign-in.refused' });
    const sites = ['Booking', 'Rota'].map((name) =>
      trouble(name, { cause: 'reply.status', host: `${name}.ternferry.test`, restsOn: [database.watchId] }),
    );
    expect(groupTroubles([...sites, database], [])[0]).toMatchObject({
      kind: 'upstream',
      upstream: database.watchId,
    });
  });

  it('what rests on something that rests on something points at the lowest that fails', () => {
    const line = trouble('Line');
    const router = trouble('Router', { restsOn: [line.watchId] });
    const site = trouble('Site', { restsOn: [router.watchId, line.watchId] });
    expect(groupTroubles([site, router, line], [])).toMatchObject([
      { upstream: line.watchId, watchIds: [line.watchId, site.watchId, router.watchId] },
    ]);
  });

  it('one certificate shared by three sites', () => {
    const sites = [1, 2, 3].map((i) =>
      trouble(`site ${i}`, { host: `s${i}.ternferry.test`, cause: 'tls.expired', certificate: 'ab12' }),
    );
    expect(groupTroubles(sites, [])).toMatchObject([
      { kind: 'certificate', sentence: 'Three watches share one certificate, and it is what fails.' },
    ]);
  });

  it('a shared certificate says nothing where something else fails', () => {
    const sites = [1, 2].map((i) =>
      trouble(`site ${i}`, { host: `s${i}.ternferry.test`, cause: 'reply.status', certificate: 'ab12' }),
    );
    expect(groupTroubles(sites, [])).toEqual([]);
  });

  it('different names on one address', () => {
    const sites = [1, 2].map((i) =>
      trouble(`site ${i}`, { host: `s${i}.ternferry.test`, address: '203.0.113.7' }),
    );
    expect(groupTroubles(sites, [])).toMatchObject([
      { kind: 'machine', watchIds: sites.map((s) => s.watchId) },
    ]);
    expect(groupTroubles(sites, [{ host: null, address: '203.0.113.7' }])[0]!.sentence).toContain(
      'while others there are well',
    );
  });

  it('one host with several ports is one trouble, by its name or by its number', () => {
    const group = groupTroubles(
      [
        trouble('Site', { host, port: 443, address: '203.0.113.7' }),
        trouble('Shell', { host, port: 22, address: '203.0.113.7' }),
        trouble('Mail', { host: '203.0.113.7', port: 25, address: '203.0.113.7' }),
        trouble('Store', { host, port: 9000, address: null }),
      ],
      [],
    );
    expect(group).toHaveLength(1);
    expect(group[0]!.watchIds).toHaveLength(4);
    expect(group[0]!.sentence).toBe(`Four watches on ${host} failed at once.`);
  });

  it('a name server that answers nobody is no matter of a domain', () => {
    const names = ['booking.ternferry.test', 'rota.elsewhere.test', 'ternferry.test'];
    const silent = names.map((name, i) =>
      trouble(`name ${i}`, {
        host: name,
        cause: i === 2 ? 'name.server-failed' : 'name.timeout',
        port: null,
      }),
    );
    const [group, ...others] = groupTroubles(silent, []);
    expect(others).toEqual([]);
    expect(group).toMatchObject({
      kind: 'resolver',
      sentence:
        'Three watches had no answer from this machine’s name server, at once; what they look at may be well.',
    });
    expect(group!.advice).not.toContain('renewed');
    const asked = silent.map((one) => ({ ...one, resolver: '192.0.2.53' }));
    expect(groupTroubles(asked, [])[0]!.sentence).toContain('the name server 192.0.2.53');
    // Two name servers that are silent are two troubles.
    expect(groupTroubles([asked[0]!, silent[1]!], [])).toEqual([]);
  });

  it('one zone whose own server fails is a matter of that zone', () => {
    const failed = ['booking', 'rota'].map((name) =>
      trouble(name, { host: `${name}.ternferry.test`, cause: 'name.server-failed' }),
    );
    expect(groupTroubles(failed, [])).toMatchObject([{ kind: 'name' }]);
  });

  it('the database under two sites is named from what they share in time alone', () => {
    const database = trouble('Booking database', { carries: true, cause: 'sign-in.full', host, port: 5432 });
    const sites = ['Booking', 'Rota'].map((name, i) =>
      trouble(name, { cause: 'reply.status', host: `${name}.ternferry.test`, began: T0 + 20_000 * (i + 1) }),
    );
    expect(groupTroubles([...sites, database], [])).toMatchObject([
      {
        kind: 'carrier',
        sentence:
          'Booking database failed within 40 s with two watches that are answered, but wrongly; it is the likely cause.',
      },
    ]);
    expect(groupTroubles([sites[0]!, database], [])).toEqual([]);
    const long = { ...database, began: T0 - TOGETHER_MS - 20_001 };
    expect(groupTroubles([...sites, long], [])).toEqual([]);
    const refused = sites.map((site) => ({ ...site, cause: 'port.refused' as const }));
    expect(groupTroubles([...refused, database], [])).toEqual([]);
    // Databases alone explain nothing but themselves, and one site beside two of them may be chance.
    const more = ['Ledger', 'Queue'].map((name) => trouble(name, { carries: true, host: `${name}.test` }));
    expect(groupTroubles([database, ...more], [])).toEqual([]);
    expect(groupTroubles([database, more[0]!, sites[0]!], [])).toEqual([]);
  });

  it('a record that changed says nothing of the machine behind the name', () => {
    const record = trouble('Records', { host, cause: 'record.changed', port: null });
    expect(groupTroubles([record, trouble('Booking', { host })], [])).toEqual([]);
  });

  it('are sorted in a time that grows with their number alone', () => {
    const took = (count: number) => {
      const many = Array.from({ length: count }, (_, i) =>
        trouble(`w${i}`, {
          host: `h${i % (count / 2)}.ternferry.test`,
          address: `10.0.${i % 7}.${i % (count / 12)}`,
        }),
      );
      return effortOf(() => {
        expect(groupTroubles(many, []).flatMap((group) => group.watchIds)).toHaveLength(count);
      });
    };
    took(600);
    // Sixteen times as many: the square would be 256 times.
    expect(took(9600) / took(600)).toBeLessThan(80);
  });

  it('troubles far apart in time stand alone', () => {
    expect(
      groupTroubles(
        [trouble('Booking', { host }), trouble('Timetable', { host, began: T0 + TOGETHER_MS + 1 })],
        [],
      ),
    ).toEqual([]);
  });

  it('no watch is in two groups, none in a group by itself, and the order of troubles does not count', () => {
    const one = fc.record({
      host: fc.constantFrom('a.ternferry.test', 'b.ternferry.test', null),
      address: fc.constantFrom('10.0.0.1', '10.0.0.2', '203.0.113.7', null),
      certificate: fc.constantFrom('ab', null),
      cause: fc.constantFrom('tls.expired' as const, 'name.not-found' as const, 'port.timeout' as const),
      began: fc.integer({ min: T0, max: T0 + 3_600_000 }),
      restsOn: fc.array(fc.integer({ min: 0, max: 9 }), { maxLength: 2 }),
    });
    fc.assert(
      fc.property(fc.array(one, { maxLength: 10 }), (given) => {
        const troubles = given.map((g, i) =>
          trouble(`w${i}`, { ...g, watchId: i, restsOn: g.restsOn.filter((id) => id < i) }),
        );
        const groups = groupTroubles(troubles, []);
        const grouped = groups.filter((g) => g.kind !== 'upstream').flatMap((g) => g.watchIds);
        expect(new Set(grouped).size).toBe(grouped.length);
        for (const group of groups) expect(group.watchIds.length).toBeGreaterThan(1);
        const sorted = (all: typeof groups) =>
          all.map((g) => [g.kind, ...[...g.watchIds].sort((a, b) => a - b)].join()).sort();
        expect(sorted(groupTroubles([...troubles].reverse(), []))).toEqual(sorted(groups));
      }),
    );
  });
});
