import fc from 'fast-check';

/** Whether code that was changed on purpose is tried: by the thousand, so that each time has to be short. */
export const IS_CHANGED = process.env['MUTANT_TESTS'] !== undefined;

/** Somebody who looks for what is rare tries every property so many times as often: `TRIES=50 npm run test:unit`. */
const TIMES = Number(process.env['TRIES'] ?? 1);

/** How often a property is tried, or how many of a thing there are in a test of many. */
export function tries(usual: number): number {
  return Math.ceil(IS_CHANGED ? usual / 8 : usual * TIMES);
}

/** Where nothing else is said. */
const USUAL = 100;
if (TIMES !== 1) fc.configureGlobal({ numRuns: tries(USUAL) });
