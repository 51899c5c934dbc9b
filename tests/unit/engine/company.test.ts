import { describe, expect, it } from 'vitest';
import { Company } from '@/engine/link/company';

const MINUTE = 60_000;

describe('an engine without a front door', () => {
  function at() {
    const clock = { now: 5 };
    return { clock, company: new Company(() => clock.now) };
  }

  it('goes on for ten minutes, from its start or since the last one left', () => {
    const { clock, company } = at();
    clock.now += 10 * MINUTE;
    expect(company.isGoneForGood()).toBe(false);
    clock.now += 1;
    expect(company.isGoneForGood()).toBe(true);
    company.comes();
    expect(company.isGoneForGood()).toBe(false);
    company.leaves();
    clock.now += 10 * MINUTE;
    expect(company.isGoneForGood()).toBe(false);
    clock.now += 1;
    expect(company.isGoneForGood()).toBe(true);
  });

  it('goes on for as long as anybody is there', () => {
    const { clock, company } = at();
    company.comes();
    company.comes();
    company.leaves();
    clock.now += 60 * MINUTE;
    expect(company.isGoneForGood()).toBe(false);
    company.leaves();
    expect(company.isGoneForGood()).toBe(false);
  });
});
