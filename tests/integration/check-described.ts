import { Ajv2020, type ValidateFunction } from 'ajv/dist/2020.js';
import addFormats from 'ajv-formats';
import { readFileSync } from 'node:fs';
import { inject } from 'vitest';

/**
 * Every answer of the API that a test gets is held against the document: its status has to be one that is described, and
 * its body what is described for it.
 */

interface Operation {
  responses: Record<string, { content?: Record<string, { schema: object }> }>;
}

// Made once for all test files (write-document.ts).
const document = JSON.parse(readFileSync(inject('openApiFile'), 'utf8')) as {
  paths: Record<string, Record<string, Operation>>;
};
const ajv = new Ajv2020({ strict: false, allErrors: true, validateFormats: true });
(addFormats as unknown as (ajv: Ajv2020) => void)(ajv);
ajv.addSchema(document, 'document');

const patterns = Object.keys(document.paths)
  .sort((a, b) => Number(a.includes('{')) - Number(b.includes('{')))
  .map((path) => ({ path, pattern: new RegExp(`^${path.replace(/\{\w+\}/g, '[^/]+')}$`) }));

const validators = new Map<string, ValidateFunction>();

function pointer(...parts: string[]): string {
  return parts.map((part) => `/${part.replaceAll('~', '~0').replaceAll('/', '~1')}`).join('');
}

function validatorAt(at: string): ValidateFunction {
  const known = validators.get(at) ?? ajv.compile({ $ref: `document#${encodeURI(at)}` });
  validators.set(at, known);
  return known;
}

const PROBLEM = pointer('components', 'schemas', 'Problem');

/** What is wrong with an answer; null where it is as it was described. */
export function undescribed(
  method: string,
  path: string,
  { status, type, body }: { status: number; type: string; body: string },
): string | null {
  const what = `${method} ${path} ${status}`;
  if (type.startsWith('application/problem+json')) {
    const check = validatorAt(PROBLEM);
    if (!check(JSON.parse(body))) return `${what}: no problem as described: ${ajv.errorsText(check.errors)}`;
  }
  const found = patterns.find(({ pattern }) => pattern.test(path === '' ? '/' : path));
  const operation = found && document.paths[found.path]![method === 'HEAD' ? 'get' : method.toLowerCase()];
  if (!found || !operation) return null;
  const response = operation.responses[String(status)];
  if (!response) return `${what}: this status is not described`;
  if (!/^application\/json(;|$)/.test(type) || method === 'HEAD') return null;
  const at = pointer('paths', found.path, method.toLowerCase(), 'responses', String(status));
  const check = validatorAt(`${at}${pointer('content', 'application/json', 'schema')}`);
  return check(JSON.parse(body)) ? null : `${what}: ${ajv.errorsText(check.errors)}\n${body.slice(0, 2000)}`;
}
