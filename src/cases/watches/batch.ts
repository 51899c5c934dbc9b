import { array, mixed } from 'yup';
import { newCheckinKey } from '@/accounts/secrets';
import { TakenNames } from '@/core/settings/unique-name';
import { inChunks } from '@/store/db/chunks';
import { fetchNamesFrom } from '@/store/watches/tied';
import { insertWatches } from '@/store/watches/watches';
import { Refusal } from '@/cases/frame/refusal';
import { asIs, asks, changes } from '@/cases/frame/use-case';
import { validateBody } from '@/cases/frame/validate';
import { strictObject } from '@/cases/schemas/common';
import { aroundOf, tellEngine } from './around';
import { validateWatch, type ValidWatch } from './valid-watch';

const MOST = 1000;
/** So many are made, changed or brought back in one transaction: nobody else waits long for the right to write. */
export const A_PART = 200;

/** What came of one of many. */
export interface BatchLine {
  /** Null where it was refused. */
  id: number | null;
  name: string;
  /** Why it was refused; null where it was made. */
  problem: string | null;
}

export const batchSchema = strictObject({
  watches: array()
    .of(
      mixed()
        .required()
        .meta({ jsonSchema: { type: 'object', additionalProperties: true } }),
    )
    .required('Expected a list of watches, got nothing.')
    .min(1, 'Expected at least one watch, got none.')
    .max(MOST, `Expected at most ${MOST} watches at once.`)
    .meta({ description: 'Each as it would be sent to /watches.' }),
});

/** Some of many, in one transaction, with one word to the engine. */
export const createManyWatches = changes(
  'createManyWatches',
  'operate',
  asIs<{ valid: readonly ValidWatch[] }>,
  async ({ trx, now, about, afterwards, world }, { valid }): Promise<number[]> => {
    const made = valid.map((watch) => ({
      ...watch,
      config: watch.own,
      checkinKey: watch.config.type === 'checkin' ? newCheckinKey() : null,
      createdAt: now,
    }));
    const ids = await insertWatches(trx, made);
    for (const [i, { name }] of valid.entries()) about({ kind: 'watch', id: ids[i]!, name });
    afterwards(() => tellEngine(world, ids));
    return ids;
  },
);

/** Makes many watches in one call: each that fits, and a word on each that does not. */
export const createWatches = asks(
  'createWatches',
  'operate',
  async ({ who, world, db }, { body }: { body: unknown }): Promise<BatchLine[]> => {
    const { watches } = await validateBody<{ watches: object[] }>(batchSchema, body);
    const around = await aroundOf(db, world.vault, null);
    const names = new TakenNames(await fetchNamesFrom(db, ''));
    const lines: BatchLine[] = [];
    const fitting: { line: BatchLine; valid: ValidWatch }[] = [];
    for (const one of watches) {
      const line: BatchLine = { id: null, name: '', problem: null };
      lines.push(line);
      try {
        const valid = await validateWatch(one, around);
        if ((one as { name?: unknown }).name) names.take(valid.name);
        else valid.name = names.give(valid.name);
        line.name = valid.name;
        fitting.push({ line, valid });
      } catch (error) {
        if (!(error instanceof Refusal)) throw error;
        line.problem = error.fields[0]?.message ?? error.detail;
      }
    }
    for (const part of inChunks(fitting, A_PART)) {
      const ids = await createManyWatches(who, { valid: part.map(({ valid }) => valid) }, world);
      for (const [k, { line }] of part.entries()) line.id = ids[k]!;
    }
    return lines;
  },
);
