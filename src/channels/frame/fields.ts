import { number, string } from 'yup';

/** A text that has to be there. */
export function needed(what: string, most = 300) {
  return string().trim().required(`Expected ${what}, got nothing.`).max(most);
}

/** The name or address of a server. */
export function host(what: string) {
  return needed(what)
    .matches(
      /^[^\s/:@]+$|^[0-9a-f:]+$/i,
      ({ value }) => `Expected ${what} and nothing else, got "${String(value)}".`,
    )
    .meta({ description: `${what.charAt(0).toUpperCase()}${what.slice(1)}.` });
}

export function port(usual: number, description: string) {
  const expected = 'Expected a port from 1 to 65535.';
  return number()
    .integer(expected)
    .min(1, expected)
    .max(65_535, expected)
    .typeError(expected)
    .default(usual)
    .meta({ description });
}
