import { array, boolean, string } from 'yup';
import { ADDED_KINDS } from '@/core/followers/follower';
import { LANGUAGE_CODES } from '@/core/languages/language';
import { strictObject } from './common';
import { oneOf } from './pages';

/** What a follower hears of. */
const choice = {
  labels: array()
    .of(string().required().max(120))
    .nullable()
    .default(null)
    .max(500, 'Expected at most 500 lines.')
    .meta({ description: 'Lines of the page by what they are called there; null for all of them.' }),
  maintenance: boolean().default(true).meta({ description: 'Whether maintenance is told, too.' }),
};

export const choiceSchema = strictObject(choice);

/** A token of a link in a letter, perhaps with what is wanted. */
export const followLinkSchema = strictObject({
  token: string().required('Expected the end of the link, got nothing.').max(500),
  choice: choiceSchema.nullable().default(null),
});

export const askSchema = strictObject({
  mail: string()
    .required('Expected one mail address, got nothing.')
    .max(300, 'Expected one mail address, got a longer text.'),
  ...choice,
  language: oneOf('language', LANGUAGE_CODES, 'en'),
});

const key = (what: string, bytes: number) =>
  string()
    .required(`Expected ${what}, got nothing.`)
    .matches(
      new RegExp(`^[\\w-]{${Math.ceil((bytes * 4) / 3)}}=*$`),
      `Expected ${what}: ${bytes} bytes as base64url.`,
    );

/** What a browser says of itself, with what it is to be told. */
export const pushSchema = strictObject({
  endpoint: string().required('Expected where the browser is pushed to, got nothing.').max(2000),
  p256dh: key('the key of the browser', 65),
  auth: key('the secret of the browser', 16),
  ...choice,
  language: oneOf('language', LANGUAGE_CODES, 'en'),
});

export const pushEndSchema = strictObject({
  endpoint: string().required('Expected where the browser is pushed to, got nothing.').max(2000),
});

const consent = string()
  .trim()
  .required('Expected how you know that they want it, got nothing.')
  .max(300, 'Expected at most 300 characters.')
  .meta({ description: 'How it is known that they want it: it is kept with each.' });

export const followerSchema = strictObject({
  kind: oneOf('kind', ADDED_KINDS, 'mail'),
  address: string()
    .trim()
    .required('Expected an address, got nothing.')
    .max(500, 'Expected at most 500 characters.')
    .meta({ description: 'A mail address, or where events are posted to.' }),
  ...choice,
  language: oneOf('language', LANGUAGE_CODES, 'en'),
  consent,
});

export const followerListSchema = strictObject({
  list: string()
    .required('Expected addresses, got nothing.')
    .max(1_000_000, 'Expected at most 1000000 characters.')
    .meta({ description: 'Mail addresses, one a line, or CSV with the address in its first column.' }),
  consent,
  language: oneOf('language', LANGUAGE_CODES, 'en'),
});
