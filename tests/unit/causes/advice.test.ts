import { describe, expect, it } from 'vitest';
import { CAUSES } from '@/core/causes/cause-catalogue';
import { CAUSE_CODES, causeAdvice, causeSentence, isOurOwnFault } from '@/core/causes/causes';

const usual = CAUSES['reply.status'].advice;

describe('advice for a status', () => {
  it.each([
    [401, /^It asks for a sign-in: set a name/],
    [403, /lets nobody in/],
    [404, /^The page is not there/],
    [410, /^The page is not there/],
    [407, /^A proxy in between/],
    [429, /asked too often/],
    [503, /cannot serve now/],
    [502, /^What answers stands before the service/],
    [504, /^What answers stands before the service/],
    [300, /^It leads elsewhere/],
    [399, /^It leads elsewhere/],
  ])('%i says where to look', (status, said) => {
    expect(causeAdvice('reply.status', { status })).toMatch(said);
    expect(causeAdvice('tls.expired', { status })).toBe(CAUSES['tls.expired'].advice);
  });

  it.each([200, 299, 400, 402, 405, 500, 501, 505])('%i says no more than that it is not fine', (status) =>
    expect(causeAdvice('reply.status', { status })).toBe(usual),
  );

  it('stands without a status too', () => expect(causeAdvice('reply.status')).toBe(usual));
});

describe('a cause', () => {
  it('is this machine’s own fault where the look itself could not be carried out', () => {
    expect(CAUSE_CODES.filter((code) => isOurOwnFault(code)).every((code) => code.startsWith('look.'))).toBe(
      true,
    );
    expect(isOurOwnFault('look.no-line')).toBe(true);
    expect(isOurOwnFault('port.refused')).toBe(false);
    expect(isOurOwnFault(undefined)).toBe(false);
  });

  it('names the step of a journey first', () => {
    expect(causeSentence('reply.status', { status: 500, step: 'Sign in' })).toBe(
      'Sign in: The server answers, but replies 500.',
    );
  });
});
