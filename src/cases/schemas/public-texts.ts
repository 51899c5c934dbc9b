import { array, number, string } from 'yup';
import { TemplateError } from '@/core/messages/sandbox';
import { EXAMPLE_VALUES, PUBLIC_TEXT_VALUES } from '@/core/pages/public-text';
import { fillTemplate } from '@/core/messages/sandbox';
import { strictObject, title, wholeNumber } from './common';

/** A template that can be filled in with what there is. */
function template(what: string, most: number, optional = false) {
  const field = string()
    .trim()
    .max(most, ({ value }) => `Expected ${what} of at most ${most} characters, got ${String(value).length}.`)
    .test('template', (value, context) => {
      try {
        fillTemplate(value ?? '', EXAMPLE_VALUES);
        return true;
      } catch (error) {
        if (!(error instanceof TemplateError)) throw error;
        const names = Object.keys(PUBLIC_TEXT_VALUES).join(', ');
        return context.createError({
          message: `Expected ${what} that names ${names} at most: ${error.message}.`,
        });
      }
    })
    .meta({ description: `A Liquid template that may name ${Object.keys(PUBLIC_TEXT_VALUES).join(', ')}.` });
  return optional ? field.default('') : field.required(`Expected ${what}, got nothing.`);
}

export const publicTextSchema = strictObject({
  name: title('a name', 80),
  title: template('a title', 200),
  body: template('a text', 4000),
  over: template('a text of the end', 4000, true),
});

export const fillTextSchema = strictObject({
  outageId: number().integer().nullable().default(null).meta({ description: 'The outage it is for.' }),
  pageId: number().integer().nullable().default(null).meta({ description: 'The page it is for.' }),
  watchIds: array().of(number().integer().required()).default([]).max(500, 'Expected at most 500 watches.'),
});

export const selfTellingSchema = strictObject({
  textId: number().integer().required('Expected the id of a text.'),
  afterMinutes: wholeNumber('afterMinutes', 'minutes', 1, 1440)
    .required('Expected a number of minutes.')
    .meta({ description: 'So long an outage has to last first.' }),
  pageIds: array()
    .of(number().integer().required())
    .required('Expected the ids of the pages it stands on.')
    .min(1, 'Expected at least one page, got none.')
    .max(50, 'Expected at most 50 pages.'),
});
