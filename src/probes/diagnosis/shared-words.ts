import { TIMING_WORDS, type SettingWords } from '@/core/settings/setting-words';
import { probeKinds } from '@/probes/kinds/registry';

/** How a shared setting is called and read out, by its name in the cascade. */
export function sharedWords(name: string): SettingWords {
  const timing = TIMING_WORDS[name];
  if (timing) return timing;
  const fields = probeKinds().flatMap((kind) => kind.fields);
  const field = fields.find((one) => one.shared && `settings.${one.name}` === name);
  return { label: field?.label ?? name, unit: 'text', none: 'none' };
}
