import { isIP } from 'node:net';
import { array, boolean, number, object, string, type ObjectShape, type TestContext } from 'yup';
import {
  COMPARISONS,
  HOW_MANY,
  type HowMany,
  comparisonProblem,
  WITHOUT_VALUE,
  type Comparison,
} from '@/core/expect/compare';
import { jsonPathProblem } from '@/core/expect/json-path';
import { patternProblem } from '@/core/expect/pattern';
import { signInProblem } from '@/probes/frame/address';
import { pemProblem } from '@/outside/authority';

const LONGEST_SECRET = 20_000;

/** A text that may be empty. */
export function text(description: string, most = 500) {
  return string()
    .default('')
    .max(most, ({ value }) => `Expected at most ${most} characters, got ${String(value).length}.`)
    .meta({ description });
}

/** A test by what is wrong with a value, in words, or null; nothing is wrong with what was left empty. */
function refusedFor(problem: (value: string) => string | null) {
  return function check(this: TestContext, value?: string | null) {
    const wrong = value ? problem(value) : null;
    return wrong === null || this.createError({ message: wrong });
  };
}

/** A text with a reason it is refused, in words, or null. Empty is allowed. */
export function textThat(description: string, problem: (value: string) => string | null, most = 2000) {
  return text(description, most).test('fits', refusedFor(problem));
}

/** A test that refuses a name and a password in an address, and says where they go instead. */
export function noSignIn(instead: string) {
  return refusedFor((value) => signInProblem(value, instead));
}

/** Kept sealed, never shown again. */
export function secret(description: string) {
  return text(`${description} Kept sealed; shown only as {"kept": true}.`, LONGEST_SECRET);
}

export function flag(description: string, fallback = false) {
  return boolean().default(fallback).meta({ description });
}

export function oneOf<T extends string>(description: string, values: readonly T[], fallback: T) {
  return string<T>()
    .default(fallback)
    .oneOf(
      values as T[],
      ({ value }) => `Expected one of ${values.filter(Boolean).join(', ')}; got ${JSON.stringify(value)}.`,
    )
    .meta({ description });
}

function numberMessage(what: string, least: number, most: number) {
  return ({ value }: { value?: unknown }) =>
    `Expected ${what} from ${least} to ${most}, got ${value === undefined || value === '' ? 'nothing' : String(value)}.`;
}

/** A number that may be left out (null). */
export function optionalNumber(description: string, least: number, most: number, whole = true) {
  const what = whole ? 'a whole number' : 'a number';
  const message = numberMessage(what, least, most);
  const schema = number()
    .transform((value: unknown, original: unknown) => (original === '' ? null : value))
    .nullable()
    .default(null)
    .typeError(({ originalValue }) => message({ value: originalValue }))
    .min(least, message)
    .max(most, message)
    .meta({ description });
  return whole ? schema.integer(message) : schema;
}

export function someNumber(description: string, least: number, most: number, fallback: number) {
  const message = numberMessage('a whole number', least, most);
  return number()
    .transform((value: unknown, original: unknown) => (original === '' ? undefined : value))
    .default(fallback)
    .typeError(({ originalValue }) => message({ value: originalValue }))
    .min(least, message)
    .max(most, message)
    .integer(message)
    .meta({ description });
}

function hostProblem(value: string): string | null {
  const bare = value.replace(/^\[|\]$/g, '');
  const right = isIP(bare) !== 0 || /^(?=.{1,253}$)[\w-]+(\.[\w-]+)*\.?$/u.test(bare);
  return right ? null : `Expected a host such as kiosk-north.ternferry.test or 192.0.2.7, got “${value}”.`;
}

/** A host that may be left out. */
export function optionalHost(description: string) {
  return string()
    .trim()
    .default('')
    .transform((value: unknown) => (typeof value === 'string' ? value.replace(/^\[(.*)\]$/, '$1') : value))
    .max(253)
    .test('host', refusedFor(hostProblem))
    .meta({ description });
}

export function host(description = 'The host, by name or address.') {
  return optionalHost(description).required(
    'Expected a host such as kiosk-north.ternferry.test, got nothing.',
  );
}

export function port(fallback?: number) {
  const message = numberMessage('a port', 1, 65535);
  const schema = number()
    .transform((value: unknown, original: unknown) => (original === '' ? undefined : value))
    .typeError(({ originalValue }) => message({ value: originalValue }))
    .integer(message)
    .min(1, message)
    .max(65535, message)
    .meta({ description: 'The port, 1 to 65535.' });
  return fallback === undefined ? schema.required(message) : schema.default(fallback);
}

export function pattern(description: string) {
  return textThat(`${description} RE2 syntax.`, patternProblem, 1000);
}

export function pem(description: string) {
  return textThat(description, pemProblem, LONGEST_SECRET);
}

export function comparison(description = 'How the value is compared.', fallback: Comparison = 'is') {
  return oneOf(description, COMPARISONS, fallback);
}

const MOST_ROWS = 50;

/** A list of rows, each an object of the same shape. */
export function rows<S extends ObjectShape>(description: string, shape: S, most = MOST_ROWS) {
  return array(object(shape).noUnknown())
    .default([])
    .max(most, `Expected at most ${most} rows.`)
    .meta({ description });
}

/** A test of a value: what is compared, how, and with what. */
export interface ValueTest {
  what: string;
  /** For how many of the values at a path it must hold. */
  many?: HowMany;
  comparison: Comparison;
  value: string;
}

function valueTests(
  description: string,
  what: string,
  problem: (text: string) => string | null,
  more: ObjectShape = {},
) {
  return rows(description, {
    ...more,
    what: string()
      .trim()
      .default('')
      .test('what', function check(value) {
        const wrong = value ? problem(value) : `Expected ${what}, got nothing.`;
        return wrong === null || this.createError({ message: wrong });
      })
      .meta({ description: what }),
    comparison: comparison(),
    value: string()
      .default('')
      .max(1000)
      .test('value', function check(value) {
        const { comparison: how } = this.parent as ValueTest;
        const wrong = WITHOUT_VALUE.includes(how) ? null : comparisonProblem(how, value ?? '');
        return wrong === null || this.createError({ message: wrong });
      })
      .meta({ description: 'What it is compared with.' }),
  });
}

export function jsonTests() {
  const many = oneOf('For how many of the values at the path it must hold.', HOW_MANY, 'all');
  return valueTests('Values in the JSON answer.', 'a JSON path such as $.status', jsonPathProblem, { many });
}

export function headerTests() {
  return valueTests('Headers of the answer.', 'the name of a header such as content-type', (name) =>
    /^[!#$%&'*+.^_`|~0-9a-z-]+$/i.test(name) ? null : `Expected the name of a header, got “${name}”.`,
  );
}

/** The columns of a list of value tests in the form; at a path there may be several values. */
export function valueTestColumns(label: string, placeholder: string, several = false) {
  const many = { name: 'many', label: 'For', control: 'select', options: HOW_MANY } as const;
  return [
    { name: 'what', label, control: 'text', placeholder },
    ...(several ? [many] : []),
    { name: 'comparison', label: 'Comparison', control: 'select', options: COMPARISONS },
    { name: 'value', label: 'Value', control: 'text' },
  ] as const;
}
