import type { AnySchema } from 'yup';
import type { UseCase } from '@/cases/frame/use-case';
import type { Expected } from '@/cases/frame/version';
import type { Db } from '@/store/db/connection';
import type { Answer } from '@/api/answers/build';
import type { RefusalCode } from '@/cases/frame/refusals';
import { route, type Call, type Route } from '@/api/route';

/** Something there are several of, each with an id: what its five operations have in common. */
export interface Resource<T> {
  /** Where the list is. */
  path: string;
  tag: string;
  /** "section", as in "One section". */
  what: string;
  shape: Answer;
  /** Kept things as they are told. */
  tell: (call: Call, one: T, db: Db) => unknown;
  /** It has a version, which is its ETag. */
  versioned?: true;
  /** Nothing of it changes by itself. */
  still?: true;
}

type Body = AnySchema | { oneOf: () => AnySchema[] };

interface Words {
  summary?: string;
  description?: string;
  answer?: string;
}

interface ListSpec<T> extends Words {
  does: UseCase<Record<string, never>, T[]>;
}

const capital = (text: string) => `${text[0]!.toUpperCase()}${text.slice(1)}`;

function shared<T>({ tag, shape, versioned, still }: Resource<T>) {
  return { tag, shape, ...(versioned && { versioned }), ...(still && { still }) };
}

const theOne = <T>({ what }: Resource<T>) => `The ${what}.`;

/** All of them, in an order of their own. */
export function listRoute<T>(resource: Resource<T>, { does, ...words }: ListSpec<T>): Route {
  const { path, tag, shape, tell } = resource;
  return route({
    method: 'GET',
    path,
    tag,
    summary: `The ${resource.what}s`,
    answer: `${capital(resource.what)}s.`,
    ...words,
    does,
    list: { by: 'order' },
    status: 200,
    shape: { each: shape as never },
    input: () => ({}),
    tell: (call, all, db) => Promise.all(all.map((one) => tell(call, one, db))),
  });
}

export function getRoute<T>(
  resource: Resource<T>,
  { does, ...words }: Words & { does: UseCase<{ id: number }, T> },
): Route {
  return route({
    method: 'GET',
    path: `${resource.path}/{id}`,
    summary: `One ${resource.what}`,
    answer: theOne(resource),
    ...words,
    ...shared(resource),
    does,
    status: 200,
    input: ({ ids }) => ({ id: ids.id! }),
    tell: resource.tell,
  });
}

interface MakeSpec<In, T> extends Words {
  does: UseCase<In, T>;
  body: Body;
  example: object;
  query?: Route['query'];
  refusals?: readonly RefusalCode[];
  input?: (call: Call) => In;
}

export function createRoute<In, T extends { id: number }>(
  resource: Resource<T>,
  { summary, refusals = [], input, ...spec }: MakeSpec<In, T> & { summary: string },
): Route {
  return route({
    method: 'POST',
    path: resource.path,
    answer: theOne(resource),
    ...shared(resource),
    ...spec,
    summary,
    status: 201,
    refusals: ['input.invalid', ...refusals],
    location: ({ id }) => `${resource.path}/${id}`,
    input: input ?? (({ body }) => ({ body }) as In),
    tell: resource.tell,
  });
}

type ChangeInput = { id: number; body: object; expected: Expected };

export function changeRoute<T>(
  resource: Resource<T>,
  {
    summary = `Change a ${resource.what}`,
    ...spec
  }: Words & { does: UseCase<ChangeInput, T>; body: Body; example: object },
): Route {
  return route({
    method: 'PATCH',
    path: `${resource.path}/{id}`,
    answer: theOne(resource),
    description: 'Fields that are left out stay as they are.',
    ...shared(resource),
    ...spec,
    summary,
    partial: true,
    status: 200,
    refusals: ['input.invalid', 'state.changed'],
    input: ({ ids, body, expected }) => ({ id: ids.id!, body, expected }),
    tell: resource.tell,
  });
}

export function deleteRoute<T>(
  resource: Resource<T>,
  {
    summary,
    does,
    description,
    refusals = [],
  }: Words & {
    summary: string;
    does: UseCase<{ id: number; expected: Expected }, void>;
    refusals?: readonly RefusalCode[];
  },
): Route {
  return route({
    method: 'DELETE',
    path: `${resource.path}/{id}`,
    tag: resource.tag,
    summary,
    ...(description && { description }),
    does,
    status: 204,
    answer: 'Nothing.',
    shape: null,
    refusals: [...(resource.versioned ? (['state.changed'] as const) : []), ...refusals],
    input: ({ ids, expected }) => ({ id: ids.id!, expected }),
  });
}

interface ActSpec<In, Out> extends Words {
  summary: string;
  answer: string;
  does: UseCase<In, Out>;
  shape: Answer | null;
  body?: Body;
  bodyOptional?: true;
  /** Nothing has to be sent of what the schema asks for. */
  partial?: true;
  example?: object;
  instead?: { does: UseCase<In, Out>; when: (call: Call) => boolean };
  refusals?: readonly RefusalCode[];
  query?: Route['query'];
  versioned?: true;
  input: (call: Call) => In;
  tell?: (call: Call, out: Out, db: Db) => unknown;
}

/** Something that is done: tried, ordered, paused. */
export function actRoute<In, Out>(tag: string, path: string, spec: ActSpec<In, Out>): Route {
  const { body, refusals = [] } = spec;
  return route({
    ...spec,
    method: 'POST',
    path,
    tag,
    status: spec.shape === null ? 204 : 200,
    refusals: [...(body ? (['input.invalid'] as const) : []), ...refusals],
  });
}
