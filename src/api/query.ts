import { object, string, ValidationError, type ObjectSchema } from 'yup';
import { Refusal } from '@/cases/frame/refusal';
import { readMoment, wholeNumber } from '@/cases/schemas/common';
import type { ListPage } from '@/store/db/list-page';
import { readCursor } from './cursor';
import { EXPORT_FORMATS } from './export';
import type { Listing } from './route';
import { ownEntry } from '@/core/text/own-entry';

export const MOST_LISTED = 1000;
const USUALLY_LISTED = 100;

const moment = (name: string) =>
  string()
    .optional()
    .test(
      'moment',
      ({ value }) =>
        `Expected ${name} as a day there is, a time and a zone, such as 2026-11-26T13:00:00Z, got "${String(value).slice(0, 80)}".`,
      (value) => value === undefined || readMoment(value) !== null,
    )
    .meta({ format: 'date-time' });

/** A span in the query. */
export const spanQuery = {
  from: moment('from').meta({ description: 'Where the span begins; left out, 90 days ago.' }),
  until: moment('until').meta({ description: 'Where it ends; left out, now.' }),
};

/** One of some words. */
export const oneOfQuery = (of: readonly string[], description: string) =>
  string()
    .oneOf(of, ({ value }) => `Expected one of ${of.join(', ')}, got "${String(value).slice(0, 80)}".`)
    .optional()
    .meta({ description });

export const flagQuery = (description: string) =>
  string()
    .oneOf(['true', 'false'], ({ value }) => `Expected true or false, got "${String(value).slice(0, 80)}".`)
    .optional()
    .meta({ description, jsonSchema: { type: 'boolean' } });

/** The parameters a list has besides its own. */
export function listQuery(listing: Listing, usuallyAscending: boolean) {
  return {
    limit: wholeNumber('limit', '', 1, MOST_LISTED)
      .default(USUALLY_LISTED)
      .meta({ description: 'At most so many.' }),
    cursor: string()
      .optional()
      .max(500, 'Expected a cursor as it was given.')
      .meta({ description: 'Goes on where a page ended; it comes from the Link header of that page.' }),
    order: string()
      .oneOf(
        ['asc', 'desc'],
        ({ value }) => `Expected order to be asc or desc, got "${String(value).slice(0, 80)}".`,
      )
      .default(usuallyAscending ? 'asc' : 'desc')
      .meta({
        description: listing.by === 'time' ? 'By time.' : 'As it stands on the desk, or the other way round.',
      }),
    as: string()
      .oneOf(
        EXPORT_FORMATS,
        ({ value }) =>
          `Expected as to be one of ${EXPORT_FORMATS.join(', ')}, got "${String(value).slice(0, 80)}".`,
      )
      .optional()
      .meta({
        description:
          'The whole list from there on as a file, however long it is: text/csv (RFC 4180) or application/jsonl in place of application/json; limit has no say.',
      }),
    ...(listing.by === 'time' && {
      since: moment('since').meta({
        description: listing.lasts
          ? 'Only what lasts beyond this time, or is not over.'
          : 'Only what was at or after this time.',
      }),
      until: moment('until').meta({ description: 'Only what was, or began, before this time.' }),
    }),
  };
}

/** The schema of a whole query. */
export function queryOf(
  own: ObjectSchema<object> | undefined,
  list: Listing | undefined,
): ObjectSchema<object> {
  const fields = (own?.fields ?? {}) as Record<string, never>;
  return object({ ...(list && listQuery(list, list.by !== 'time')), ...fields }) as ObjectSchema<object>;
}

/** A number is what it looks like: 01 and 1e0 are not 1. */
const PLAIN_NUMBER = /^(0|-?[1-9]\d*)$/;

type Typed = Record<string, unknown>;

function refuse(field: string, message: string): Refusal {
  return new Refusal('input.query', message, [{ field, message }]);
}

/** Checks a query; parameters that are not known are refused by their name, and none is passed over. */
export async function readQuery(schema: ObjectSchema<object>, given: URLSearchParams): Promise<Typed> {
  const fields = schema.fields as Record<string, { type: string }>;
  const query: Typed = {};
  for (const name of new Set(given.keys())) {
    const field = ownEntry(fields, name);
    if (!field) {
      const names = Object.keys(fields).join(', ') || 'no parameters';
      throw refuse(name.slice(0, 80), `Expected only ${names}; got ${name.slice(0, 80)}.`);
    }
    const values = given.getAll(name);
    if (field.type === 'array') query[name] = values;
    else if (values.length > 1) throw refuse(name, `Expected ${name} once, got it ${values.length} times.`);
    else if (field.type === 'number' && !PLAIN_NUMBER.test(values[0]!)) {
      throw refuse(name, `Expected ${name} in plain digits, got "${values[0]!.slice(0, 80)}".`);
    } else query[name] = values[0];
  }
  try {
    return (await schema.validate(query, { abortEarly: false })) as Typed;
  } catch (error) {
    if (!(error instanceof ValidationError)) throw error;
    const inner = error.inner.length > 0 ? error.inner : [error];
    throw new Refusal(
      'input.query',
      inner.map((one) => one.message).join(' '),
      inner.map((one) => ({ field: one.path ?? '', message: one.message })),
    );
  }
}

const momentOf = (text: string | undefined) => (text === undefined ? null : readMoment(text));

/** The part of a list a query asks for. */
export function pageOf(query: Typed, list: Listing): ListPage {
  const { limit, cursor, order, since, until } = query as {
    limit: number;
    cursor?: string;
    order: 'asc' | 'desc';
    since?: string;
    until?: string;
  };
  const after = cursor === undefined ? null : readCursor(cursor);
  if (cursor !== undefined && after === null) {
    throw refuse('cursor', 'Expected a cursor as it was given in a Link header.');
  }
  const [from, to] = [momentOf(since), momentOf(until)];
  if (from !== null && to !== null && from > to) {
    throw refuse('until', `Expected until not to lie before since, got "${until!.slice(0, 80)}".`);
  }
  return {
    limit,
    ascending: order === 'asc',
    ...(after && { after }),
    ...(list.by === 'time' && from !== null && { since: from }),
    ...(list.by === 'time' && to !== null && { until: to }),
  };
}
