import { number, object, string, type NumberSchema, type ObjectShape } from 'yup';

const MOMENT = /^(\d{4})-(\d\d)-(\d\d)T(\d\d):(\d\d)(?::(\d\d)(?:\.\d{1,9})?)?(?:Z|[+-]\d\d:\d\d)$/i;

/** A date and time with its zone (RFC 3339) in ms since 1970; null for anything else, and for days there are none of. */
export function readMoment(text: unknown): number | null {
  const parts = typeof text === 'string' ? MOMENT.exec(text) : null;
  if (!parts) return null;
  const [year, month, day] = [Number(parts[1]), Number(parts[2]), Number(parts[3])];
  const there = new Date(0);
  there.setUTCFullYear(year, month - 1, day);
  if (there.getUTCMonth() !== month - 1 || there.getUTCDate() !== day) return null;
  const at = Date.parse(text as string);
  return Number.isNaN(at) ? null : at;
}

function isMoment(name: string) {
  const message = ({ value }: { value?: unknown }) =>
    `Expected ${name} as a day there is, a time and a zone, such as 2026-11-26T13:00:00Z, got "${String(value).slice(0, 80)}".`;
  const test = (value: unknown) => value === null || readMoment(value) !== null;
  return ['moment', message, test] as const;
}

/** A date and time with its zone: one without would mean another moment to each reader. */
export function moment(name: string) {
  return string()
    .required(`Expected ${name}, got nothing.`)
    .test(...isMoment(name))
    .meta({ format: 'date-time' });
}

/** The same where it may be left out. */
export function momentOrNone(name: string) {
  return string()
    .nullable()
    .default(null)
    .test(...isMoment(name))
    .meta({ format: 'date-time' });
}

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
