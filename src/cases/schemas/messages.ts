import { boolean, string, type AnySchema } from 'yup';
import { channelKind, channelKinds } from '@/channels/registry';
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
