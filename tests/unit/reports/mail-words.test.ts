import { describe, expect, it } from 'vitest';
import { listedIn, mailRulesOf, maySend, readMail } from '@/core/reports/mail-words';
import { effortOf } from '../effort';

const usual = mailRulesOf({});
const reading = (subject: string, body = '', rules = {}) => readMail(mailRulesOf(rules), { subject, body });

describe('what a mail of a job says', () => {
  it.each([
    ['Manifest backup: SUCCESS', 'done', 'SUCCESS'],
    ['Manifest backup finished', 'done', 'finished'],
    ['Backup FAILED on quay-2', 'failed', 'FAILED'],
    ['failure: could not be completed', 'failed', 'failure'],
    ['Job started, ok', 'begun', 'started'],
    ['Cron <root@quay-2> /opt/tern/manifest', 'note', null],
    ['The booking book was looked up', 'note', null],
    ['Fehlerfrei-ok.', 'done', 'ok'],
    ['', 'note', null],
  ])('takes the subject “%s” for %s', (subject, kind, word) => {
    expect(reading(subject)).toMatchObject({ kind, word });
  });

  it('asks the body only where the subject says nothing, and only where it may', () => {
    expect(reading('Report', 'all steps\nerror: disk full')).toEqual({
      kind: 'failed',
      word: 'error',
      place: 'body',
    });
    expect(reading('Report: ok', 'error: none at all')).toMatchObject({ kind: 'done', place: 'subject' });
    expect(reading('Report', 'error', { mailWhere: 'subject' })).toEqual({
      kind: 'note',
      word: null,
      place: null,
    });
  });

  it('takes every other mail for done where no words for done are set', () => {
    expect(reading('The tide table', '', { mailDone: ' , ' })).toMatchObject({ kind: 'done', word: null });
    expect(reading('Tide table: error', '', { mailDone: '' }).kind).toBe('failed');
  });

  it('takes words as they are written, also those of several words and of signs', () => {
    const rules = { mailFailed: 'exit (1), not   sent, C++', mailDone: 'fertig' };
    expect(reading('exit (1)', '', rules).kind).toBe('failed');
    expect(reading('exit 1', '', rules).kind).toBe('note');
    expect(reading('was not\nsent', '', rules)).toMatchObject({ kind: 'failed', word: 'not\nsent' });
    expect(reading('C++ built', '', rules).kind).toBe('failed');
    expect(reading('unfertig, fertiggestellt', '', rules).kind).toBe('note');
    expect(reading('Übung fertig!', '', rules).kind).toBe('done');
  });

  it('reads hostile words and bodies in time that grows with their length alone', () => {
    const rules = { mailFailed: Array.from({ length: 120 }, (_, i) => `a a${i}`).join(',') };
    const time = (length: number) => effortOf(() => void reading('', 'a '.repeat(length), rules), 3);
    time(10_000);
    expect(time(200_000)).toBeLessThan(40 * Math.max(1, time(20_000)));
  });
});

describe('who may report by mail', () => {
  it.each([
    ['', 'anyone@far.example', true],
    ['', '', true],
    ['root@ternferry.test', 'Root@TernFerry.test', true],
    ['root@ternferry.test', 'root@ternferry.test.example', false],
    ['@ternferry.test', 'quay@ternferry.test', true],
    ['@ternferry.test', 'quay@sub.ternferry.test', false],
    ['@ternferry.test', 'quay@otherternferry.test', false],
    ['@ternferry.test', 'ternferry.test', false],
    ['@ternferry.test', '', false],
    ['rota@crew.test,\n@ternferry.test', 'rota@crew.test', true],
  ])('with “%s” set, “%s” may: %s', (mailFrom, sender, may) => {
    expect(maySend({ ...usual, mailFrom }, sender)).toBe(may);
  });

  it('takes lists with commas and lines', () => {
    expect(listedIn(' a , b\n\nc,')).toEqual(['a', 'b', 'c']);
  });
});
