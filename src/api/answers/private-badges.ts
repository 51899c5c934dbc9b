import { identity, named, text, time, whole } from './build';

export const privateBadge = named('PrivateBadge', {
  id: whole(),
  version: text(),
  watchId: identity('the watch it stands for').nullable(),
  sectionId: identity('the section').nullable(),
  tagId: identity('the tag').nullable(),
  name: text('What that is called; null where it is gone.').nullable(),
  madeAt: time(),
  address: text('Where it is found, by whoever knows it. A png in place of svg is a picture of dots.'),
});
