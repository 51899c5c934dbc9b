import { describe, expect, it } from 'vitest';
import { isDeadAddress, readBounce } from '@/core/followers/bounce';

const report = (fields: Record<string, string>) =>
  [
    'Reporting-MTA: dns; mail.ternferry.test',
    '',
    ...Object.entries(fields).map(([k, v]) => `${k}: ${v}`),
  ].join('\r\n');

describe('what a mail server says of a letter', () => {
  it('is that it failed, why, and in which words', () => {
    const failed = {
      Action: 'failed',
      Status: '5.1.1',
      'Diagnostic-Code': 'smtp; 550 5.1.1 nobody\r\n  of that name',
    };
    expect(readBounce(report(failed))).toEqual({ status: '5.1.1', said: '550 5.1.1 nobody of that name' });
    expect(readBounce(report({ action: 'FAILED', status: '5.2.1 (closed)' }))).toEqual({
      status: '5.2.1',
      said: '',
    });
  });

  it.each([
    ['Action: failed \nStatus: 5.1.10\nDiagnostic-Code: smtp;550\n\tclosed', '5.1.10', '550 closed'],
    ['Action: failed\nStatus: 5.10.1\nDiagnostic-Code: 550 closed; call us', '5.10.1', '550 closed; call us'],
  ])('is read however it is written: %j', (text, status, said) =>
    expect(readBounce(text)).toEqual({ status, said }),
  );

  it.each([
    { Action: 'failed', Status: 'about 5.1.1' },
    { Action: 'delayed', Status: '4.4.1' },
    { Action: 'delivered', Status: '2.0.0' },
    { Action: 'failed', Status: '4.4.7' },
    { Action: 'failed', Status: 'none' },
    { Action: 'failed' },
    { Status: '5.1.1' },
  ])('is nothing of the kind: %j', (fields) =>
    expect(readBounce(report(fields as Record<string, string>))).toBe(null),
  );

  it('is short, whatever it says', () => {
    const long = { Action: 'failed', Status: '5.1.1', 'Diagnostic-Code': `smtp; ${'x'.repeat(5000)}` };
    expect(readBounce(report(long))!.said).toHaveLength(300);
  });

  it.each([
    ['5.1.1', '', true],
    ['5.1.10', '', true],
    ['5.2.2', 'the mailbox is full', true],
    ['5.7.1', 'it looks like spam', false],
    ['5.4.4', 'no way there', false],
    ['5.0.0', '550 5.1.1 nobody of that name', true],
    ['5.0.0', '550 User unknown', true],
    ['5.0.0', '550 5.7.26 no DMARC', false],
    ['5.0.0', '550 no', false],
    ['5.11.1', '', false],
    // The code of the report counts for more than what stands in its words, and any code for more than words.
    ['5.7.1', '550 5.1.1 no', false],
    ['5.7.1', '550 user unknown', false],
    ['5.0.0', '550 5.10.1 user unknown', false],
    ['5.0.0', '550 5.1.10 no', true],
  ] as const)('%s “%s” says that there is no such address: %s', (status, said, dead) =>
    expect(isDeadAddress({ status, said })).toBe(dead),
  );
});
