import { boolean, mixed, string, type AnySchema } from 'yup';
import { channelKind, channelKinds } from '@/channels/kinds/registry';
import { strictObject, title } from './common';

export function channelSchema(kindId: string): AnySchema | null {
  const kind = channelKind(kindId);
  if (!kind) return null;
  return strictObject({
    kind: string().oneOf([kindId]).required(),
    name: title('a name for the channel', 80),
    enabled: boolean().default(true).meta({ description: 'Whether messages go to it.' }),
    settings: kind.schema.required('Expected settings.'),
  });
}

export function channelKindIds(): string[] {
  return channelKinds().map((kind) => kind.id);
}

export const tokenSchema = strictObject({ name: title('a name for the token', 80) });

/** What is asked of the other side for a field. */
export const findSchema = strictObject({
  kind: string().required('Expected a kind of channel, got nothing.'),
  field: string().required('Expected the name of a field, got nothing.'),
  // Which they are is up to the kind.
  settings: mixed()
    .required('Expected settings.')
    .test(
      'object',
      'Expected settings as an object.',
      (value) => typeof value === 'object' && value !== null && !Array.isArray(value),
    )
    .meta({ jsonSchema: { type: 'object', additionalProperties: true } }),
});
