import { array, boolean, mixed, number, object, string, type AnySchema } from 'yup';
import { describe, expect, it } from 'vitest';
import type { Refusal } from '@/cases/frame/refusal';
import { validateBody } from '@/cases/frame/validate';

async function said(schema: AnySchema, body: unknown): Promise<string[]> {
  const refused = await validateBody(schema, body).then(
    () => null,
    (error: unknown) => error,
  );
  return (refused as Refusal).fields.map(({ message }) => message);
}

/** A schema that leaves all its words to the library. */
const WORDLESS = object({
  name: string().min(2).max(5),
  count: number().min(1).max(9).integer(),
  open: boolean(),
  tags: array(string().defined()).min(1).max(2),
  side: mixed().oneOf(['port', 'starboard']),
});

describe('what a schema has no words for', () => {
  it.each<[object, string]>([
    [{ name: 'a' }, 'Expected name to have at least 2 characters, got 1.'],
    [{ name: 'x'.repeat(5000) }, 'Expected name to have at most 5 characters, got 5000.'],
    [{ count: 0 }, 'Expected count to be at least 1, got 0.'],
    [{ count: 1e300 }, 'Expected count to be at most 9, got 1e+300.'],
    [{ count: 1.5 }, 'Expected count to be a whole number, got 1.5.'],
    [{ count: 'many' }, 'Expected count to be a number, got "many".'],
    [{ count: '' }, 'Expected count to be a number, got "".'],
    [{ open: 'ajar' }, 'Expected open to be true or false, got "ajar".'],
    [{ tags: [] }, 'Expected tags to have at least one item, got 0.'],
    [{ tags: ['a', 'b', 'c'] }, 'Expected tags to have at most 2 items, got 3.'],
    [{ tags: [null] }, 'Expected tags[0] to be something else, got null.'],
    [{ side: 'aft' }, 'Expected side to be one of port, starboard, got "aft".'],
  ])('is said in ours: %j', async (body, message) => {
    expect(await said(WORDLESS, body)).toEqual([message]);
  });

  it('repeats no more of what came than tells it apart', async () => {
    const [open] = await said(WORDLESS, { open: 'x'.repeat(5000) });
    expect(open).toMatch(/^Expected open to be true or false, got "x{79}\.$/);
  });

  it('is told of the body too, and what has words of its own keeps them', async () => {
    expect(await said(number().max(3), 4)).toEqual(['Expected the body to be at most 3, got 4.']);
    const own = object({ name: string().max(2, 'name is too long, said the harbour.') });
    expect(await said(own, { name: 'abc' })).not.toEqual(['name is too long, said the harbour.']);
    const better = object({ name: string().max(2, 'Expected a name of at most 2 characters.') });
    expect(await said(better, { name: 'abc' })).toEqual(['Expected a name of at most 2 characters.']);
  });
});
