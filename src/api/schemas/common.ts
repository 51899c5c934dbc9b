import { number, object, string, type NumberSchema, type ObjectShape } from 'yup';

/** A whole number in a range; messages say what was expected and what came. */
export function wholeNumber(
  name: string,
  unit: string,
  least: number,
  most: number,
): NumberSchema<number | undefined> {
  const of = unit ? `a whole number of ${unit}` : 'a whole number';
  const message = ({ value, originalValue }: { value?: unknown; originalValue?: unknown }) =>
    `Expected ${name} to be ${of} from ${least} to ${most}, got ${JSON.stringify(originalValue ?? value ?? null)}.`;
  return number().typeError(message).integer(message).min(least, message).max(most, message);
}

/** An object; fields it does not know are refused by `validateBody`. */
export function strictObject<S extends ObjectShape>(shape: S) {
  return object(shape).typeError('Expected a JSON object.');
}

export function title(name: string, most = 120) {
  return string()
    .trim()
    .required(`Expected ${name}, got nothing.`)
    .max(most, ({ value }) => `Expected ${name} of at most ${most} characters, got ${String(value).length}.`);
}
