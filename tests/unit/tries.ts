/** Whether code that was changed on purpose is tried: by the thousand, so that each time has to be short. */
export const IS_CHANGED = process.env['MUTANT_TESTS'] !== undefined;

/** How often a property is tried, or how many of a thing there are in a test of many. */
export function tries(usual: number): number {
  return IS_CHANGED ? Math.ceil(usual / 8) : usual;
}
