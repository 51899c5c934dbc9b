import type { RefusalCode } from './refusals';

/** One field that was refused, by its path in the input: "settings.address". */
export interface FieldRefusal {
  field: string;
  message: string;
}

/** What was asked for is not done, and why: a code of the catalogue and a sentence for whoever asked. */
export class Refusal extends Error {
  override name = 'Refusal';

  constructor(
    readonly code: RefusalCode,
    readonly detail: string,
    readonly fields: FieldRefusal[] = [],
    /** Seconds after which it may be tried again, where that is known. */
    readonly retryAfter: number | null = null,
  ) {
    super(detail);
  }
}

export function notFound(what: string): Refusal {
  return new Refusal('not.found', `There is no ${what.slice(0, 200)}.`);
}

/** Fields that were refused, each with what was expected and what came. */
export function refused(fields: FieldRefusal[]): Refusal {
  return new Refusal('input.invalid', fields.map((f) => f.message).join(' '), fields);
}
