import { array, mixed, number, string } from 'yup';
import { AFFECTED, INCIDENT_KINDS, STAGES } from '@/core/pages/incident';
import { moment, momentOrNone, readMoment, strictObject, title } from './common';
import { oneOf } from './pages';

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

const affected = array()
  .of(
    strictObject({
      watchId: number().integer().required('Expected the id of a watch.'),
      how: oneOf('how', AFFECTED, 'out'),
    }),
  )
  .default([])
  .max(500, 'Expected at most 500 affected watches.')
  .meta({ description: 'What it does to which watches.' });

const pageIds = array()
  .of(number().integer().required())
  .min(1, 'Expected at least one page, got none.')
  .max(50, 'Expected at most 50 pages.');

const endAfterBeginning = (end: unknown, context: { parent: unknown }) => {
  const { beganAt } = context.parent as { beganAt?: unknown };
  const [from, to] = [readMoment(beganAt), readMoment(end)];
  return from === null || to === null || to > from;
};

const dates = {
  beganAt: momentOrNone('the beginning').meta({ description: 'Null, and left out: now.' }),
  endedAt: momentOrNone('the end')
    .test('after', 'Expected the end to come after the beginning.', endAfterBeginning)
    .meta({ description: 'A notice ends by itself then; an incident is over since then.' }),
};

const incidentFields = {
  title: title('a title'),
  stage: stage().default('looking'),
  body,
  kind: oneOf('kind', INCIDENT_KINDS, 'incident').meta({
    description: 'An incident, or a notice without trouble behind it.',
  }),
  ...dates,
  affected,
  outageId: number().integer().nullable().default(null).meta({ description: 'The outage it tells of.' }),
};

/** An incident on one page, which the address names. */
export const pageIncidentSchema = strictObject(incidentFields);
export const incidentSchema = strictObject({
  ...incidentFields,
  pageIds: pageIds.required('Expected the ids of the pages it stands on.'),
});
export const incidentChangeSchema = strictObject({
  title: title('a title'),
  beganAt: moment('the beginning'),
  endedAt: dates.endedAt,
  affected,
  pageIds: pageIds.required('Expected the ids of the pages it stands on.'),
  account: string()
    .trim()
    .default('')
    .max(20_000, ({ value }) => `Expected at most 20000 characters, got ${String(value).length}.`)
    .meta({ description: 'What happened, when, and what will change; Markdown, once it is over.' }),
});
export const updateSchema = strictObject({
  stage: stage().optional().meta({ description: 'Left out, it stays as it is.' }),
  body,
  endedAt: momentOrNone('the end').meta({ description: 'With the stage "over": since when. Null: now.' }),
});
export const correctionSchema = strictObject({ body });

/** A page or an incident that is being typed. */
export const previewSchema = strictObject({
  pageId: number()
    .integer()
    .nullable()
    .default(null)
    .meta({ description: 'The page that is changed; null for a new one.' }),
  page: mixed()
    .nullable()
    .default(null)
    .meta({
      description: 'What is typed of the page; null, it stands as it is.',
      jsonSchema: { type: ['object', 'null'], additionalProperties: true },
    }),
  incident: strictObject({
    title: title('a title'),
    kind: oneOf('kind', INCIDENT_KINDS, 'incident'),
    stage: stage().default('looking'),
    body,
    beganAt: dates.beganAt,
    affected,
  })
    .nullable()
    .default(null)
    .meta({ description: 'An incident that is written for it.' }),
});
