import { array, boolean, mixed, number, object, string, type AnySchema, type ObjectShape } from 'yup';
import type { JsonSchema } from '@/api/json-schema';

/**
 * What answers are made of. An answer is described once, by a Yup schema: the document shows it, and what leaves the
 * server is cut to it (`shape.ts`), so that neither says more than the other.
 */

const said = (description: string) => ({ ...(description !== '' && { description }) });

export const text = (description = '') => string().defined().meta(said(description));
export const whole = (description = '') => number().integer().defined().meta(said(description));
export const amount = (description = '') => number().defined().meta(said(description));
export const flag = (description = '') => boolean().defined().meta(said(description));
export const identity = (what: string) => whole(`The id of ${what}.`);

/** A moment; kept as ms since 1970, told as a date and time in UTC (RFC 3339). */
export const time = (description = '') =>
  string()
    .defined()
    .meta({ ...said(description), format: 'date-time' });

export const choice = (values: readonly string[], description = '') =>
  string()
    .oneOf([...values])
    .defined()
    .meta(said(description));

export const list = (of: AnySchema, description = '') => array(of).defined().meta(said(description));

/** What has a shape of its own that is said as JSON Schema. */
export const asSchema = (jsonSchema: JsonSchema, description = '') =>
  mixed()
    .defined()
    .nullable()
    .meta({ jsonSchema, ...said(description) });

/** A shape with a name of its own in the document. */
export const named = (name: string, fields: ObjectShape, description = '') =>
  object(fields)
    .defined()
    .meta({ name, ...said(description) });

export const inner = (fields: ObjectShape, description = '') =>
  object(fields).defined().meta(said(description));

/** One of several shapes, told apart by a field; each has a name of its own. */
export interface Variants {
  name: string;
  by: string;
  of: Readonly<Record<string, AnySchema>>;
}

export type Answer = AnySchema | Variants | { each: AnySchema | Variants };

export function isVariants(answer: Answer): answer is Variants {
  return 'by' in answer && 'of' in answer;
}

export function isEach(answer: Answer): answer is { each: AnySchema | Variants } {
  return 'each' in answer;
}
