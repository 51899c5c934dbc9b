import { describe, expect, it } from 'vitest';
import { recordProblem, sameRecords, type RecordType } from '@/core/expect/records';

describe('records that say the same', () => {
  it.each<[RecordType, string[], string[], boolean]>([
    ['A', ['192.0.2.1', '192.0.2.2'], ['192.0.2.2', '192.0.2.1', '192.0.2.1'], true],
    ['A', ['192.0.2.1'], ['192.0.2.1', '192.0.2.2'], false],
    ['A', ['192.0.2.1', '192.0.2.2'], ['192.0.2.1', '192.0.2.3'], false],
    ['A', [], [], true],
    ['AAAA', ['2001:db8::10'], ['2001:0DB8:0:0:0:0:0:10'], true],
    ['AAAA', ['::1'], ['0:0:0:0:0:0:0:1'], true],
    ['AAAA', ['2001:db8::'], ['2001:db8:0:0:0:0:0:0'], true],
    ['AAAA', ['2001:db8::1'], ['2001:db8::2'], false],
    ['AAAA', ['2001:db8::100'], ['2001:db8::1'], false],
    ['AAAA', ['1:2:3:4:5:6:7:8'], ['1:2:3:4:5:6:7:8'], true],
    ['AAAA', [' 2001:db8::10 '], ['2001:db8::10'], true],
    ['TXT', ['"v=spf1 mx"'], ['v=spf1 mx'], true],
    ['TXT', ['say "aye"'], ['say aye'], false],
    ['TXT', ['V=SPF1'], ['v=spf1'], false],
    ['TXT', ['"a" "b"'], ['a b'], false],
    ['CNAME', ['Site.Ternferry.Test.'], ['site.ternferry.test'], true],
    ['CNAME', ['site.ternferry.test'], ['site-ternferry.test'], false],
    ['MX', ['10   mail.ternferry.test.'], [' 10 MAIL.ternferry.test '], true],
    ['MX', ['10 mail.ternferry.test'], ['20 mail.ternferry.test'], false],
    ['CAA', ['0 issue "ca.example"'], ['0 issue ca.example'], true],
  ])('%s %j and %j: %s', (type, a, b, same) => {
    expect(sameRecords(type, a, b)).toBe(same);
    expect(sameRecords(type, b, a)).toBe(same);
  });
});

describe('records as a person writes them', () => {
  it.each<[RecordType, string, boolean]>([
    ['A', '192.0.2.10', true],
    ['A', '192.0.2', false],
    ['A', '1192.0.2.10', false],
    ['A', 'x192.0.2.10', false],
    ['A', '192.0.2.10x', false],
    ['AAAA', '2001:db8::10', true],
    ['AAAA', '::ffff:192.0.2.1', true],
    ['AAAA', '192.0.2.10', false],
    ['AAAA', 'x2001:db8::10', false],
    ['CNAME', 'site.ternferry.test', true],
    ['CNAME', 'two words', false],
    ['MX', '10 mail.ternferry.test', true],
    ['MX', 'mail.ternferry.test', false],
    ['MX', '10 mail.ternferry.test x', false],
    ['MX', 'x10 mail.ternferry.test', false],
    ['SRV', '10 5 5060 phone.ternferry.test', true],
    ['SRV', '10 5 phone.ternferry.test', false],
    ['CAA', '0 issue "ca.example"', true],
    ['CAA', 'issue "ca.example"', false],
    ['TXT', 'anything at all', true],
    ['NS', '', false],
    ['PTR', '', false],
  ])('%s %j: %s', (type, text, fits) => {
    const problem = recordProblem(type, text);
    if (fits) expect(problem).toBeNull();
    else expect(problem).toMatch(new RegExp(`^Expected a record such as “.+”, got “${text}”\\.$`));
  });
});
