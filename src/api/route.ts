import type { AnySchema } from 'yup';
import type { ServerContext } from '@/server/context';

/** What a handler is given. */
export interface Call {
  context: ServerContext;
  params: Record<string, string>;
  query: URLSearchParams;
  body: unknown;
  now: number;
  /** Where links begin: the public address of this request. */
  base: string;
  /** What the mail addresses of check-ins end in; null while no mail is taken in. */
  mailDomain: string | null;
}

/** One operation of the API: dispatching, validation and the OpenAPI document all come from it. */
export interface Route {
  method: 'GET' | 'POST' | 'PATCH' | 'DELETE';
  /** Under /api/v1, with {names} in braces. */
  path: string;
  summary: string;
  tag: string;
  /** The schema of the body, or several, one of which it has to fit; the handler validates. */
  body?: AnySchema | { oneOf: () => AnySchema[] };
  query?: { name: string; description: string }[];
  /** The status of success; 204 has no body. */
  status: 200 | 201 | 204;
  /** What the answer is, in words. */
  answer: string;
  handle: (call: Call) => Promise<unknown>;
}

/** A whole number from a path, or undefined. */
export function idOf(call: Call, name = 'id'): number {
  const id = Number(call.params[name]);
  return Number.isSafeInteger(id) && id > 0 ? id : -1;
}

/** A bounded whole number from the query. */
export function limitOf(call: Call, fallback: number, most: number): number {
  const limit = Number(call.query.get('limit') ?? fallback);
  return Number.isInteger(limit) && limit > 0 ? Math.min(limit, most) : fallback;
}
