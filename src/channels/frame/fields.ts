import { boolean, number, object, string, type AnySchema, type ObjectSchema } from 'yup';
import { templateProblem } from '@/core/messages/sandbox';
import { area, toggle } from '@/core/settings/fields';
import { pemProblem } from '@/outside/authority';

/** The settings of a kind: whatever was left out is there by its default. */
export function settingsOf<S extends object>(fields: Record<keyof S & string, AnySchema>): ObjectSchema<S> {
  return object(fields) as unknown as ObjectSchema<S>;
}

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

/** A text that is filled in (Liquid); one that can never be is refused where it is typed. */
export function template(what: string, most: number) {
  return string()
    .default('')
    .max(most, ({ value }) => `Expected ${what} of at most ${most} characters, got ${String(value).length}.`)
    .test('template', '', (value, { createError }) => {
      const problem = templateProblem(value ?? '');
      return (
        problem === null || createError({ message: `Expected ${what} that can be filled in: ${problem}.` })
      );
    });
}

/** An authority of one's own that is trusted besides those of this machine. */
export function authority() {
  return string()
    .default('')
    .max(20_000)
    .test('pem', '', (value, { createError }) => {
      const problem = value ? pemProblem(value) : null;
      return problem === null || createError({ message: problem });
    })
    .meta({
      description: 'The authority that signed the server’s certificate (PEM), where it is one of your own.',
    });
}

/** The field for it, among what few people need. */
export const authorityField = (extra = 'Connection') =>
  area(
    'authority',
    'Trust this authority too',
    'Its certificate (PEM), for a server with an authority of your own.',
    { extra },
  );

/** Whether it listens to what is written there. */
export function listens(usual = true) {
  return boolean()
    .default(usual)
    .meta({ description: 'Listens there: whoever answers “mine 7” has the trouble of watch 7.' });
}

export const listensField = (
  help = 'Whoever answers “mine” or “mine 7” there has that trouble; “not mine” gives it back.',
) => toggle('listens', 'Take answers', help);
