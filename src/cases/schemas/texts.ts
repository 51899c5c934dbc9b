import { string } from 'yup';
import { TEXT_HAPPENINGS } from '@/core/messages/said-titles';
import { template } from '@/channels/frame/fields';
import { MOST_TEMPLATE } from '@/core/messages/sandbox';
import { strictObject, wholeNumber } from './common';

const MOST_TITLE = 500;

const parts = {
  channelId: wholeNumber('the id of a channel', '', 1, Number.MAX_SAFE_INTEGER)
    .nullable()
    .default(null)
    .meta({ description: 'The channel it is for; null for every channel that has no text of its own.' }),
  happening: string()
    .required('Expected a happening, got nothing.')
    .oneOf(
      TEXT_HAPPENINGS,
      ({ value }) =>
        `Expected a happening, one of ${TEXT_HAPPENINGS.join(', ')}, got "${String(value).slice(0, 80)}".`,
    )
    .meta({ description: 'What it is said of.' }),
  title: template('a title', MOST_TITLE).meta({
    description: 'The title, as a Liquid template; empty for the built-in one.',
  }),
  body: template('a text', MOST_TEMPLATE).meta({
    description: 'The lines below it, as a Liquid template; empty for the built-in ones.',
  }),
};

export const textSchema = strictObject(parts).test(
  'some',
  'Expected a title or a text, got neither.',
  ({ title, body }, { createError }) =>
    Boolean(title?.trim()) ||
    Boolean(body?.trim()) ||
    createError({ path: 'body', message: 'Expected a title or a text, got neither.' }),
);

export const textTrialSchema = strictObject(parts);

export const textTestSchema = strictObject({
  ...parts,
  channelId: wholeNumber('the id of a channel', '', 1, Number.MAX_SAFE_INTEGER)
    .required('Expected the channel it is sent to, got nothing.')
    .meta({ description: 'The channel it is sent to.' }),
});
