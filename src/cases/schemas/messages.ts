import { boolean, mixed, string, type AnySchema } from 'yup';
import { channelKind, channelKinds } from '@/channels/kinds/registry';
import { LANGUAGE_CODES, USUAL_LANGUAGE } from '@/core/languages/language';
import { strictObject, title, wholeNumber } from './common';

function language() {
  return string()
    .oneOf(
      LANGUAGE_CODES,
      ({ value }) =>
        `Expected language to be one of ${LANGUAGE_CODES.join(', ')}, got "${String(value).slice(0, 80)}".`,
    )
    .meta({ description: 'What messages to it are said in (BCP 47).' });
}

export function channelSchema(kindId: string): AnySchema | null {
  const kind = channelKind(kindId);
  if (!kind) return null;
  return strictObject({
    kind: string().oneOf([kindId]).required(),
    name: title('a name for the channel', 80),
    enabled: boolean().default(true).meta({ description: 'Whether messages go to it.' }),
    fallbackId: wholeNumber('the id of a channel', '', 1, Number.MAX_SAFE_INTEGER)
      .nullable()
      .default(null)
      .meta({ description: 'The channel that is told instead where this one takes nothing.' }),
    language: language().default(USUAL_LANGUAGE),
    settings: kind.schema.required('Expected settings.'),
  });
}

export function channelKindIds(): string[] {
  return channelKinds().map((kind) => kind.id);
}

export const tokenSchema = strictObject({ name: title('a name for the token', 80) });

/** Settings of a kind that is not known yet; which they are is up to it. */
const anySettings = mixed<object>()
  .test(
    'object',
    'Expected settings as an object.',
    (value) => value === undefined || (typeof value === 'object' && value !== null && !Array.isArray(value)),
  )
  .meta({ jsonSchema: { type: 'object', additionalProperties: true } });

/** What is asked of the other side for a field. */
export const findSchema = strictObject({
  kind: string().required('Expected a kind of channel, got nothing.'),
  field: string().required('Expected the name of a field, got nothing.'),
  settings: anySettings.required('Expected settings.'),
  channelId: wholeNumber('the id of a channel', '', 1, Number.MAX_SAFE_INTEGER)
    .optional()
    .meta({ description: 'A channel that is connected: what is left out is as it is kept there.' }),
});

/** A test of a channel that is connected, with settings that are not saved yet. */
export const channelTestSchema = strictObject({
  settings: anySettings.meta({ description: 'What would be changed; the rest is as it is kept.' }),
  language: language().optional(),
});
