import { describe, expect, it } from 'vitest';
import { CHECKIN_NAME, READABLE_PATH } from '@/core/reports/checkin-name';
import { readReport } from '@/core/reports/report-query';

const read = (query: string) => readReport(new URLSearchParams(query));

describe('what a job says in its query', () => {
  it.each([
    ['', { kind: 'done', code: null, run: null, progress: null, took: null }],
    ['is=begun', { kind: 'begun' }],
    ['is=begun&progress=0', { kind: 'begun', progress: 0 }],
    ['is=note&progress=99.875', { kind: 'note', progress: 99.875 }],
    ['progress=100', { kind: 'note', progress: 100 }],
    ['code=0', { kind: 'done', code: 0 }],
    ['is=done&code=0', { kind: 'done', code: 0 }],
    ['is=done&code=2', { kind: 'failed', code: 2 }],
    ['code=-1', { kind: 'failed', code: -1 }],
    ['is=failed&code=0', { kind: 'failed', code: 0 }],
    ['is=failed', { kind: 'failed', code: null }],
    ['code=1234567890', { kind: 'failed', code: 1_234_567_890 }],
    [`run=${'r'.repeat(100)}`, { run: 'r'.repeat(100) }],
    ['run=x', { run: 'x' }],
    ['took=1.2345', null],
    ['took=1.234', { took: 1234 }],
    ['took=2592000', { took: 2_592_000_000 }],
    ['took=0', { took: 0 }],
  ])('%s', (query, said) => {
    if (said === null) expect(read(query)).toMatch(/^Expected/);
    else expect(read(query)).toMatchObject(said);
  });

  it.each([
    ['is=finished', 'Expected is to be begun, done, failed or note, got "finished".'],
    ['is=', 'Expected is to be begun, done, failed or note, got "".'],
    ['code=abc', 'Expected code to be an exit status such as 0, got "abc".'],
    ['code=x1', 'Expected code to be an exit status such as 0, got "x1".'],
    ['code=1x', 'Expected code to be an exit status such as 0, got "1x".'],
    ['code=12345678901', 'Expected code to be an exit status such as 0, got "12345678901".'],
    ['code=1.5', 'Expected code to be an exit status such as 0, got "1.5".'],
    ['is=begun&code=0', 'Expected code only with done or failed, got it with begun.'],
    ['is=note&code=0', 'Expected code only with done or failed, got it with note.'],
    ['run=', 'Expected run to be 1 to 100 characters, got 0.'],
    [`run=${'r'.repeat(101)}`, 'Expected run to be 1 to 100 characters, got 101.'],
    ['progress=100.5', 'Expected progress to be a number from 0 to 100, got "100.5".'],
    ['progress=a5', 'Expected progress to be a number from 0 to 100, got "a5".'],
    ['progress=5%25', 'Expected progress to be a number from 0 to 100, got "5%".'],
    ['progress=1.2345', 'Expected progress to be a number from 0 to 100, got "1.2345".'],
    ['is=done&progress=5', 'Expected progress only with a note or begun, got it with done.'],
    ['is=failed&progress=5', 'Expected progress only with a note or begun, got it with failed.'],
    ['took=2592001', 'Expected took to be seconds from 0 to 2592000, got "2592001".'],
    ['took=-1', 'Expected took to be seconds from 0 to 2592000, got "-1".'],
    ['took=1s', 'Expected took to be seconds from 0 to 2592000, got "1s".'],
    ['exit=1', 'Expected only is, code, run, progress and took, got "exit".'],
    [`is=${'x'.repeat(60)}`, `Expected is to be begun, done, failed or note, got "${'x'.repeat(40)}".`],
  ])('%s is refused', (query, why) => expect(read(query)).toBe(why));
});

describe('the readable end of a check-in address', () => {
  it.each(['a', '7', 'nightly-manifest', 'a.b_c-d', 'x'.repeat(60)])('may be %s', (name) =>
    expect(CHECKIN_NAME.test(name)).toBe(true),
  );
  it.each(['', '-a', 'a-', '.a', 'A', 'a b', 'a/b', 'x'.repeat(61), 'a\n'])('may not be %j', (name) =>
    expect(CHECKIN_NAME.test(name)).toBe(false),
  );

  it('stands behind a secret of 16 to 64 letters', () => {
    expect(READABLE_PATH.exec(`${'s'.repeat(16)}/manifest`)?.slice(1)).toEqual(['s'.repeat(16), 'manifest']);
    expect(READABLE_PATH.exec(`${'S_-'.repeat(21)}9/m`)?.[2]).toBe('m');
    for (const wrong of [
      `${'s'.repeat(15)}/manifest`,
      `${'s'.repeat(65)}/manifest`,
      `x/${'s'.repeat(16)}/manifest`,
      `${'s'.repeat(16)}/manifest/`,
      `${'s'.repeat(16)}manifest`,
    ]) {
      expect(READABLE_PATH.test(wrong)).toBe(false);
    }
  });
});
