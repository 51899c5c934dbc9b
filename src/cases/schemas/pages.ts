import { array, boolean, mixed, number, string } from 'yup';
import { LANGUAGE_CODES } from '@/core/languages/language';
import { readColour } from '@/core/pages/colour';
import { AFFECTED, INCIDENT_KINDS, STAGES } from '@/core/pages/incident';
import { cleanCss } from '@/core/pages/own-css';
import { AUDIENCES, DENSITIES, LETTERS, SHOWS, THEMES, WIDTHS } from '@/core/pages/page';
import { isTimeZone } from '@/core/time/zone-time';
import { moment, momentOrNone, readMoment, strictObject, title } from './common';

export const SLUG_PATTERN = /^[a-z0-9](?:[a-z0-9-]{0,58}[a-z0-9])?$/;
const HOST_PATTERN =
  /^(?=.{1,253}$)[a-z0-9](?:[a-z0-9-]{0,61}[a-z0-9])?(?:\.[a-z0-9](?:[a-z0-9-]{0,61}[a-z0-9])?)+$/;
const MOST_CSS = 20_000;

function oneOf<T extends string>(name: string, values: readonly T[], fallback: T) {
  return string()
    .oneOf([...values], ({ value }) => `Expected ${name} to be ${values.join(', ')}, got "${String(value)}".`)
    .default(fallback);
}

function words(name: string, most: number) {
  return string()
    .trim()
    .default('')
    .max(most, ({ value }) => `Expected ${name} of at most ${most} characters, got ${String(value).length}.`);
}

/** A web or mail address that a visitor may be led to. */
function isLink(text: string | undefined): boolean {
  if (!text || !URL.canParse(text)) return false;
  return ['http:', 'https:', 'mailto:', 'tel:'].includes(new URL(text).protocol);
}

const pageItem = strictObject({
  watchIds: array()
    .of(number().integer().required())
    .min(1, 'Expected at least one watch, got none.')
    .max(50, 'Expected at most 50 watches in one line.')
    .required('Expected the ids of watches.')
    .meta({ description: 'One watch, or several that stand as one line.' }),
  label: title('a name for the public'),
  description: words('a description', 200),
  shows: oneOf('shows', SHOWS, 'history').meta({
    description: 'Its history, how it stands now alone, or its history and how fast it answers.',
  }),
  counting: oneOf('counting', ['any', 'all'] as const, 'any').meta({
    description: 'Several are out as soon as any of them is, or only when all are.',
  }),
});

const follows = strictObject({
  sectionId: number().integer().nullable().default(null),
  tagId: number().integer().nullable().default(null),
})
  .nullable()
  .default(null)
  .test(
    'follows',
    'Expected a section or a tag.',
    (value) => !value || value.sectionId !== null || value.tagId !== null,
  )
  .meta({ description: 'Watches of that section, with that tag, or both come to it by themselves.' });

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
    .meta({ description: 'The page is at /p/<slug>/.' }),
  intro: words('an introduction', 500),
  sections: array()
    .of(
      strictObject({
        title: words('a section title', 80),
        items: array().of(pageItem).default([]).max(500, 'Expected at most 500 lines in a section.'),
        follows,
      }),
    )
    .default([])
    .max(50, 'Expected at most 50 sections.'),
  language: oneOf('language', LANGUAGE_CODES, 'en').meta({
    description: 'What is spoken to visitors whose own language is not there.',
  }),
  zone: string()
    .nullable()
    .default(null)
    .test(
      'zone',
      ({ value }) => `Expected a time zone such as Europe/Lisbon, got "${String(value)}".`,
      (value) => value === null || value === undefined || isTimeZone(value),
    )
    .meta({ description: 'Whose clocks are shown first; null for the desk’s.' }),
  audience: oneOf('audience', AUDIENCES, 'everyone').meta({
    description: 'Who may see it. With a link, the address holds a secret.',
  }),
  password: string()
    .nullable()
    .max(200, 'Expected a password of at most 200 characters.')
    .test(
      'long',
      'Expected a password of at least 8 characters.',
      (value) => value === null || value === undefined || value.length >= 8,
    )
    .meta({ description: 'Written only; left out or null, the one that stands stays.' }),
  listed: boolean().default(true).meta({ description: 'Whether search engines may list it.' }),
  host: string()
    .trim()
    .lowercase()
    .nullable()
    .default(null)
    .transform((value: string | null) => value || null)
    .test(
      'host',
      ({ value }) => `Expected a name such as status.ternferry.test, got "${String(value).slice(0, 80)}".`,
      (value) => value === null || value === undefined || HOST_PATTERN.test(value),
    )
    .meta({ description: 'A name of its own on the web.' }),
  lead: strictObject({ words: title('a few words', 200), until: moment('until when they stand') })
    .nullable()
    .default(null)
    .meta({ description: 'What leads the page instead of the sentence made from the facts.' }),
  socialText: words('a text', 200).meta({ description: 'What other sites show when somebody links to it.' }),
  theme: oneOf('theme', THEMES, 'both'),
  accent: string()
    .nullable()
    .default(null)
    .transform((value: string | null) => value || null)
    .test(
      'colour',
      ({ value }) => `Expected a colour such as #1f6e6a, got "${String(value).slice(0, 40)}".`,
      (value) => value === null || value === undefined || readColour(value) !== null,
    )
    .meta({
      description:
        'Where it could not be read on the ground of the page, the nearest colour that can is shown.',
    }),
  letters: oneOf('letters', LETTERS, 'lantern'),
  density: oneOf('density', DENSITIES, 'roomy'),
  width: oneOf('width', WIDTHS, 'wide'),
  links: array()
    .of(
      strictObject({
        text: title('the words of a link', 40),
        address: string()
          .trim()
          .required('Expected an address, got nothing.')
          .max(500, 'Expected an address of at most 500 characters.')
          .test(
            'link',
            ({ value }) =>
              `Expected an address such as https://ternferry.test, got "${String(value).slice(0, 80)}".`,
            isLink,
          ),
      }),
    )
    .default([])
    .max(8, 'Expected at most 8 links.'),
  contact: words('a contact', 200),
  footer: words('a text', 300),
  credit: boolean().default(true).meta({ description: 'Whether the page says what keeps it.' }),
  css: string()
    .default('')
    .max(MOST_CSS, `Expected rules of at most ${MOST_CSS} characters.`)
    .test({
      name: 'css',
      test(value, context) {
        const problems = value ? cleanCss(value).problems : [];
        if (problems.length === 0) return true;
        const told = problems.slice(0, 3).map(({ line, message }) => `Line ${line}: ${message}`);
        const more = problems.length > 3 ? ` And ${problems.length - 3} more.` : '';
        return context.createError({ message: `${told.join(' ')}${more}` });
      },
    })
    .meta({ description: 'Own rules of style against the documented class names.' }),
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
