import { array, number, string } from 'yup';
import { STAGES } from '@/core/pages/incident';
import { moment, readMoment, strictObject, title } from './common';

export const SLUG_PATTERN = /^[a-z0-9](?:[a-z0-9-]{0,58}[a-z0-9])?$/;

export const pageSchema = strictObject({
  title: title('a title'),
  slug: string()
    .trim()
    .required('Expected an address name, got nothing.')
    .matches(
      SLUG_PATTERN,
      ({ value }) =>
        `Expected an address name of small letters, digits and hyphens, at most 60, got "${String(value)}".`,
    )
    .meta({ description: 'The page is at /p/<slug>.' }),
  intro: string().trim().default('').max(500, 'Expected an introduction of at most 500 characters.'),
  sections: array()
    .of(
      strictObject({
        title: string().trim().default('').max(80, 'Expected a section title of at most 80 characters.'),
        items: array()
          .of(
            strictObject({
              watchId: number().integer().required('Expected the id of a watch.'),
              label: title('a name for the public'),
            }),
          )
          .default([])
          .max(200, 'Expected at most 200 watches in a section.'),
      }),
    )
    .default([])
    .max(50, 'Expected at most 50 sections.'),
});

const stage = () =>
  string().oneOf(
    [...STAGES],
    ({ value }) => `Expected stage to be ${STAGES.join(', ')}, got "${String(value)}".`,
  );

const body = string()
  .trim()
  .required('Expected a few words for the public, got nothing.')
  .max(5000, ({ value }) => `Expected at most 5000 characters, got ${String(value).length}.`)
  .meta({ description: 'Markdown (CommonMark).' });

export const incidentSchema = strictObject({
  title: title('a title'),
  stage: stage().default('looking'),
  body,
});
export const incidentTitleSchema = strictObject({ title: title('a title') });
export const updateSchema = strictObject({
  stage: stage().optional().meta({ description: 'Left out, it stays as it is.' }),
  body,
});

export const windowSchema = strictObject({
  title: title('a title'),
  watchIds: array()
    .of(number().integer().required())
    .min(1, 'Expected at least one watch, got none.')
    .required('Expected at least one watch, got none.'),
  from: moment('the beginning'),
  until: moment('the end').test(
    'after',
    'Expected the end to come after the beginning.',
    (value, context) => readMoment(value)! > readMoment((context.parent as { from: unknown }).from)!,
  ),
});
