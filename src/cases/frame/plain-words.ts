import type { ValidationError } from 'yup';
import { countOf } from '@/core/text/words';

/** What stands at a place by its type, in words. */
export const TYPE_WORDS: Readonly<Record<string, string>> = {
  string: 'text',
  number: 'a number',
  boolean: 'true or false',
  date: 'a date',
  object: 'an object',
  array: 'a list',
};

const LONGEST = 80;

/** What came, in words; no more of it than tells it apart. */
export function nameOf(value: unknown): string {
  if (value === null) return 'null';
  if (value === undefined) return 'nothing';
  if (Array.isArray(value)) return 'a list';
  return typeof value === 'object' ? 'an object' : JSON.stringify(value).slice(0, LONGEST);
}

function boundText(word: string, bound: unknown, value: unknown): string {
  const isText = typeof value === 'string';
  if (!isText && !Array.isArray(value)) return `to be ${word} ${String(bound)}, got ${nameOf(value)}`;
  const counted = countOf(Number(bound), isText ? 'character' : 'item');
  return `to have ${word} ${counted}, got ${value.length}`;
}

function wishOf({ type, params = {} }: ValidationError): string {
  const { value, originalValue, min, max, values, type: wanted } = params;
  const got = nameOf(originalValue === undefined ? value : originalValue);
  if (type === 'typeError') return `to be ${TYPE_WORDS[String(wanted)] ?? 'something else'}, got ${got}`;
  if (type === 'oneOf') return `to be one of ${String(values)}, got ${got}`;
  if (type === 'integer') return `to be a whole number, got ${got}`;
  if (type === 'min') return boundText('at least', min, value);
  if (type === 'max') return boundText('at most', max, value);
  return `to be something else, got ${got}`;
}

/** Why a value was refused: as its schema says it, and in words of ours where that leaves it to the library. */
export function reasonOf(error: ValidationError): string {
  const { path, message } = error;
  const begins = path ? `${path} ` : 'this ';
  return message.startsWith(begins) ? `Expected ${path || 'the body'} ${wishOf(error)}.` : message;
}
