import { number } from 'yup';
import { strictObject } from './common';

const one = (what: string) =>
  number()
    .integer()
    .nullable()
    .default(null)
    .meta({ description: `The ${what} it stands for; null for none.` });

export const privateBadgeSchema = strictObject({
  watchId: one('watch'),
  sectionId: one('section'),
  tagId: one('tag'),
}).test('one', 'Expected one watch, one section or one tag.', (of) => {
  const { watchId = null, sectionId = null, tagId = null } = of;
  return [watchId, sectionId, tagId].filter((id) => id !== null).length === 1;
});
