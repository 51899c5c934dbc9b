import type { AnySchema } from 'yup';
import { isEach, isVariants, type Answer } from './answers/build';

interface Described {
  type: string;
  meta?: { format?: string; jsonSchema?: unknown };
  fields?: Record<string, Described>;
  innerType?: Described;
}

type Cut = (value: unknown) => unknown;

const asItIs: Cut = (value) => value;

function cutOf(described: Described): Cut {
  if (described.meta?.jsonSchema) return asItIs;
  if (described.meta?.format === 'date-time') {
    return (value) => (typeof value === 'number' ? new Date(value).toISOString() : value);
  }
  if (described.type === 'array' && described.innerType) {
    const one = cutOf(described.innerType);
    return (value) => (Array.isArray(value) ? value.map(one) : value);
  }
  if (described.type === 'object' && described.fields) {
    const fields = Object.entries(described.fields).map(([name, field]) => [name, cutOf(field)] as const);
    return (value) => {
      if (value === null || typeof value !== 'object') return value;
      const out: Record<string, unknown> = {};
      for (const [name, cut] of fields) {
        const part = (value as Record<string, unknown>)[name];
        if (part !== undefined) out[name] = cut(part);
      }
      return out;
    };
  }
  return asItIs;
}

const cuts = new WeakMap<AnySchema, Cut>();

function cutFor(schema: AnySchema): Cut {
  const known = cuts.get(schema) ?? cutOf(schema.describe() as unknown as Described);
  cuts.set(schema, known);
  return known;
}

/** A value as its answer describes it: no field it does not name leaves the server, and times are told as such. */
export function shaped(answer: Answer, value: unknown): unknown {
  if (isEach(answer)) return (value as unknown[]).map((one) => shaped(answer.each, one));
  if (!isVariants(answer)) return cutFor(answer)(value);
  const which = String((value as Record<string, unknown>)[answer.by]);
  const schema = answer.of[which];
  if (!schema)
    throw new Error(`Expected ${answer.by} to be one of ${Object.keys(answer.of).join(', ')}, got ${which}.`);
  return cutFor(schema)(value);
}
