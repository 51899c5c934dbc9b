import { describe, expect, it } from 'vitest';
import { hostSteps, type HostFacts } from '@/core/pages/host-check';
import { Arrivals } from '@/server/site/arrivals';

const host = 'status.ternferry.test';
const here = { host, encrypted: true };
const told = (facts: Partial<HostFacts>) =>
  hostSteps({ host, addresses: ['203.0.113.5'], asked: [], ...facts }).map(
    ({ ok, text }) => `${ok ? '+' : '-'} ${text}`,
  );

describe('a name of a page', () => {
  it('is there, leads here, and is handed on', () => {
    expect(told({ asked: [{ by: 'https', arrival: here, said: '204' }] })).toEqual([
      '+ status.ternferry.test leads to 203.0.113.5.',
      '+ What answers there is this desk, by https.',
      '+ The name is handed on: visitors will find the page there.',
    ]);
    expect(
      told({ asked: [{ by: 'http', arrival: { host: `${host}:8080`, encrypted: false }, said: '204' }] }).at(
        -1,
      ),
    ).toMatch(/^\+ The name is handed on/);
  });

  it('is missing at the first step that fails, and says what to do', () => {
    expect(told({ addresses: null })).toEqual([
      expect.stringMatching(/^- There is no name .* Set the line above/),
    ]);
    const nobody = (by: 'https' | 'http', said: string) => ({ by, arrival: null, said });
    expect(
      told({ asked: [nobody('https', 'No connection: ECONNREFUSED'), nobody('http', '404')] }).at(-1),
    ).toBe('- What answers there is not this desk (https: No connection: ECONNREFUSED; http: 404).');
    const bare = { by: 'https' as const, arrival: { host: '127.0.0.1:4780', encrypted: true }, said: '204' };
    expect(told({ asked: [bare] }).at(-1)).toMatch(
      /^- The proxy does not hand the name on: it says 127\.0\.0\.1:4780/,
    );
    expect(told({ asked: [{ ...bare, arrival: { host: null, encrypted: true } }] }).at(-1)).toContain(
      'it says none',
    );
    const plain = { by: 'https' as const, arrival: { host, encrypted: false }, said: '204' };
    expect(told({ asked: [plain] }).at(-1)).toMatch(/^- .*X-Forwarded-Proto/);
  });
});

describe('requests of our own', () => {
  it('are known when they come, once they were expected and not forgotten', () => {
    const arrivals = new Arrivals();
    const mark = (path: string) => path.split('/').at(-1)!;
    expect(arrivals.came(arrivals.expect())).toBe(null);
    const one = arrivals.expect();
    expect(arrivals.note('somebody-else', here)).toBe(false);
    expect(arrivals.note(mark(one), here)).toBe(true);
    expect(arrivals.came(one)).toEqual(here);
    expect([arrivals.came(one), arrivals.note(mark(one), here)]).toEqual([null, false]);
    const many = Array.from({ length: 30 }, () => arrivals.expect());
    expect(many.map((path) => arrivals.note(mark(path), here)).filter(Boolean)).toHaveLength(20);
  });
});
