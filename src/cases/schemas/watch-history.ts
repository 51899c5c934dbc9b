import { string } from 'yup';
import { strictObject } from './common';

export const leaveOutSchema = strictObject({
  reason: string()
    .trim()
    .required('Expected the reason, got nothing.')
    .max(200, ({ value }) => `Expected at most 200 characters, got ${String(value).length}.`)
    .meta({ description: 'Why it does not count: it stands below the figures, also on public pages.' }),
});
