import { array, boolean, number, string } from 'yup';
import { LANGUAGE_CODES } from '@/core/languages/language';
import { readColour } from '@/core/pages/colour';
import { cleanCss } from '@/core/pages/own-css';
import { AUDIENCES, DENSITIES, LETTERS, SHOWS, THEMES, WIDTHS } from '@/core/pages/page';
import { PICTURE_NAME } from '@/core/pages/picture';
import { isTimeZone } from '@/core/time/zone-time';
import { moment, strictObject, title, wholeNumber } from './common';

export const SLUG_PATTERN = /^[a-z0-9](?:[a-z0-9-]{0,58}[a-z0-9])?$/;
export const HOST_PATTERN =
  /^(?=.{1,253}$)[a-z0-9](?:[a-z0-9-]{0,61}[a-z0-9])?(?:\.[a-z0-9](?:[a-z0-9-]{0,61}[a-z0-9])?)+$/;
const MOST_CSS = 20_000;

/** One of a few words. */
export function oneOf<T extends string>(name: string, values: readonly T[], fallback: T) {
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

function picture(what: string) {
  return string()
    .nullable()
    .default(null)
    .test(
      'picture',
      ({ value }) => `Expected the name of a picture that was taken in, got "${String(value).slice(0, 40)}".`,
      (value) => value === null || value === undefined || PICTURE_NAME.test(value),
    )
    .meta({ description: `${what}, by the name it was given when it was taken in; null for none.` });
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
  follow: strictObject({
    channelId: number().integer().required('Expected the id of a mail channel.'),
    perHour: wholeNumber('perHour', 'mails', 1, 100_000).default(100).meta({
      description: 'So many mails an hour are handed to the mail server; the others wait.',
    }),
    bounced: boolean().default(false).meta({
      description: 'Whether letters that cannot be delivered come back to the mail door, and count.',
    }),
  })
    .nullable()
    .default(null)
    .meta({ description: 'The channel those are written to by who follow by mail; null, nobody can.' }),
  pushes: boolean().default(false).meta({ description: 'Whether visitors may be told in their browsers.' }),
  copied: boolean().default(false).meta({
    description:
      'Whether a copy is kept in the folder of copies (LANTERN_COPIES); only of pages for everyone.',
  }),
  copyTo: strictObject({
    address: string()
      .trim()
      .required('Expected an address, got nothing.')
      .max(500, 'Expected an address of at most 500 characters.')
      .test(
        'folder',
        ({ value }) =>
          `Expected an address such as https://files.ternferry.test/status/, got "${String(value).slice(0, 80)}".`,
        (value) => URL.canParse(value ?? '') && /^https?:$/.test(new URL(value!).protocol),
      )
      .transform((value: string) => (value && !value.endsWith('/') ? `${value}/` : value)),
    user: words('a user', 200),
  })
    .nullable()
    .default(null)
    .meta({ description: 'Where a copy is put by HTTP (PUT, or WebDAV) instead.' }),
  copyPassword: string()
    .nullable()
    .max(500, 'Expected a password of at most 500 characters.')
    .meta({ description: 'Written only; left out or null, the one that stands stays.' }),
  logo: picture('A logo'),
  logoDark: picture('A logo for the night; without one, the other stands'),
  favicon: picture('What stands at the name of the window'),
  cover: picture('What stands above all else'),
  titleShown: boolean().default(true).meta({ description: 'Whether the title stands beside the logo.' }),
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
