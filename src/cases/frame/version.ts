import { createHash } from 'node:crypto';
import { Refusal } from './refusal';

/** What a caller has read, by its versions; "*" for whatever is there. Null where it does not say. */
export type Expected = readonly string[] | '*' | null;

/** A short mark of what something is; it changes when that does. */
export function versionOf(value: unknown): string {
  return createHash('sha256').update(JSON.stringify(value)).digest('base64url').slice(0, 16);
}

/** Refuses to change what has changed since it was read. */
export function refuseChanged(expected: Expected, version: string, what: string): void {
  if (expected === null || expected === '*' || expected.includes(version)) return;
  throw new Refusal(
    'state.changed',
    `Somebody has changed ${what} since you read it. Read it again, and then change what is there now.`,
  );
}

/** A whole list is only written over by somebody who says which one they have read. */
export function refuseUnsaid(expected: Expected, what: string): void {
  if (expected !== null) return;
  throw new Refusal(
    'state.unnamed',
    `This writes over ${what}. Send the ETag of what you read as If-Match, or * to write over whatever is there.`,
  );
}

/** A change to one of its kind, and which version of it was read. */
export interface VersionedChange {
  id: number;
  body: object;
  expected: Expected;
}
