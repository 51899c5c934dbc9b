import { boolean, string } from 'yup';
import { strictObject, wholeNumber } from './common';

export const daysOffSchema = strictObject({
  text: string()
    .required('Expected an iCalendar file, got nothing.')
    .max(2_000_000, 'Expected at most 2,000,000 characters.')
    .meta({ description: 'An iCalendar file (RFC 5545).' }),
});

const SECONDS_90_DAYS = 90 * 86_400;

export const newKeySchema = strictObject({
  overlap: wholeNumber('overlap', 'seconds', 0, SECONDS_90_DAYS)
    .default(7 * 86_400)
    .meta({ description: 'How many seconds the old address counts yet.' }),
});

export const checkinNameSchema = strictObject({
  name: string()
    .trim()
    .nullable()
    .default(null)
    .matches(/^[a-z0-9](?:[a-z0-9._-]{0,58}[a-z0-9])?$/, {
      message: 'Expected small letters, digits, dots and hyphens, such as nightly-manifest.',
      excludeEmptyString: true,
    })
    .transform((value: unknown) => (value === '' ? null : value))
    .meta({ description: 'The readable end of the address; null takes it away.' }),
});

export const sectionDoorSchema = strictObject({
  open: boolean().required('Expected open to be true or false, got nothing.'),
  renew: boolean().default(false).meta({ description: 'True gives the section another secret.' }),
  mostNew: wholeNumber('mostNew', '', 0, 1000)
    .default(0)
    .meta({ description: 'So many unknown names may make check-ins of their own; 0 for none.' }),
});
