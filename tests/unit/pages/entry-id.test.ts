import { expect, it } from 'vitest';
import { entryId } from '@/site/files/entry-id';

it('what stands on a page is known by a UUID of its own, as others make it (RFC 9562, 5.5)', () => {
  const page = { id: 7, createdAt: 1_764_374_400_000 };
  expect(entryId(page, 'incident/3')).toBe('urn:uuid:99638019-19ed-54d6-9f70-0c0764d71743');
  const others = [entryId(page), entryId(page, 'incident/4'), entryId({ ...page, id: 8 }, 'incident/3')];
  expect(new Set([...others, entryId({ ...page, createdAt: 0 }, 'incident/3')]).size).toBe(4);
});
