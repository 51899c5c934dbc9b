import type { AnySchema, ObjectSchema } from 'yup';
import type { Principal } from '@/cases/frame/principal';
import type { RefusalCode } from '@/cases/frame/refusals';
import type { UseCase } from '@/cases/frame/use-case';
import type { Db } from '@/store/db/connection';
import type { Expected } from '@/cases/frame/version';
import type { World } from '@/cases/frame/world';
import type { ListPage } from '@/store/db/list-page';
import type { Answer } from './answers/build';

export type Method = 'GET' | 'POST' | 'PATCH' | 'DELETE';

/** What a handler is given. */
export interface Call<Query = Record<string, unknown>> {
  who: Principal;
  world: World;
  /** Ids from the path. */
  ids: Readonly<Record<string, number>>;
  /** Checked parameters of the query. */
  query: Query;
  body: object;
  /** What the caller has read, by If-Match or by the version in the body. */
  expected: Expected;
  /** Which part of a list is wanted. */
  page: ListPage;
  /** Where links begin: the public address of this request. */
  base: string;
}

/**
 * How a list is gone through: by time; in an order of its own that is short enough to be read whole; or in one that the use
 * case itself reads a page of, behind the last that was shown.
 */
export type Listing =
  | { by: 'time'; lasts?: true; keyOf: (item: never) => readonly [at: number, id: number] }
  | { by: 'order' }
  | { by: 'place' };

/** A list by time: when each item was, and what tells those of one moment apart. */
export const byTime = <Item>(keyOf: (item: Item) => readonly [at: number, id: number]): Listing => ({
  by: 'time',
  keyOf,
});

/** One operation of the API: dispatching, validation and the OpenAPI document all come from it. */
export interface Route {
  method: Method;
  /** Under /api/v1, with {names} of ids in braces. */
  path: string;
  tag: string;
  summary: string;
  description?: string;
  /** What it does, which gives the operation its name; or the use case the call chooses instead. */
  does: UseCase<never, unknown>;
  instead?: { does: UseCase<never, unknown>; when: (call: Call) => boolean };
  /** What the use case is given. */
  input: (call: Call) => unknown;
  /** What came of it, as it is told; left out, as it is. `db` is the transaction where there is one. */
  tell?: (call: Call, out: never, db: Db) => unknown;
  /** The schema of the body, or several, one of which it has to fit; the use case validates. */
  body?: AnySchema | { oneOf: () => AnySchema[] };
  /** The body is a file of one of these types; the use case judges what is in it. */
  file?: { types: readonly string[]; mostBytes: number };
  /** The body may be left out whole. */
  bodyOptional?: true;
  /** A change: what is left out stays as it is. */
  partial?: true;
  query?: ObjectSchema<object>;
  list?: Listing;
  /** The status of success; 204 has no body. */
  status: 200 | 201 | 204;
  /** What is answered, in words and by its shape; null for nothing. */
  answer: string;
  shape: Answer | null;
  /** What the shape calls the version, where the resource has one: it is the ETag. */
  versioned?: true;
  /** The answer holds nothing that changes by itself: who has read it need not be sent it again. */
  still?: true;
  /** What it may be refused for besides what every call may. */
  refusals?: readonly RefusalCode[];
  /** Where what was made is found, under /api/v1; only for 201. */
  location?: (made: never) => string;
  /** A body for the document; checked by a test. */
  example?: object;
  /** Not JSON, and not handled here. */
  stream?: true;
}

/** A route whose use case, input and answer fit each other. */
export function route<In, Out>(
  spec: Omit<Route, 'does' | 'input' | 'tell' | 'instead' | 'location'> & {
    does: UseCase<In, Out>;
    instead?: { does: UseCase<In, Out>; when: (call: Call) => boolean };
    input: (call: Call) => In;
    tell?: (call: Call, out: Out, db: Db) => unknown;
    location?: (made: Out) => string;
  },
): Route {
  return spec as unknown as Route;
}
