import type { Dispatch, SetStateAction } from 'react';
import type { Resolved } from '@/core/settings/cascade';
import { levelText, settingValueText, TIMING_WORDS, type SettingWords } from '@/core/settings/setting-words';
import type { KindChoice } from '@/views/settings/kind-choices';
import type { SharedForm } from './shared-field';
import type { PickableWatch } from '@/ui/form/watch-picker';
import { ownNames, withHeld, type WatchFormValues } from './watch-form-values';

interface SharedFormOptions {
  values: WatchFormValues;
  setValues: Dispatch<SetStateAction<WatchFormValues>>;
  held: Resolved;
  kinds: readonly KindChoice[];
  watches: readonly PickableWatch[];
}

const PACE = ['every', 'when'];

/** How a shared setting is called. */
export function settingLabel(name: string, kinds: readonly KindChoice[]): string {
  return wordsOf(name, kinds, '').label;
}

function wordsOf(name: string, kinds: readonly KindChoice[], kindId: string): SettingWords {
  const timing = TIMING_WORDS[name];
  if (timing) return timing;
  const own = kinds.filter((kind) => kind.id === kindId);
  const field = [...own, ...kinds]
    .flatMap((kind) => kind.fields)
    .find((one) => `settings.${one.name}` === name);
  return { label: field?.label ?? name, unit: 'text', none: 'none' };
}

/** The handles by which fields take a setting into their own hands and give it back. */
export function sharedForm({ values, setValues, held, kinds, watches }: SharedFormOptions): SharedForm {
  const owned = ownNames(values);
  const kind = kinds.find((one) => one.id === values.kind)?.title ?? '';
  const place = { kind, section: values.section || null };
  // How often and at which times are one field, called "every".
  const names = (name: string) => (name === 'every' ? PACE : [name]);
  const bySetTimes = held.values.when !== null && held.values.when !== undefined;
  const shown = (name: string) => (name === 'every' && bySetTimes ? 'when' : name);
  const field = (name: string) => {
    const options = kinds
      .flatMap((one) => one.fields)
      .find((one) => `settings.${one.name}` === name)?.options;
    return options?.find((option) => option.value === held.values[name])?.text;
  };
  return {
    owns: (name) => names(name).some((one) => owned.includes(one)),
    held: (name) => held.values[name],
    heldText: (name) => {
      const text =
        field(name) ??
        settingValueText(
          wordsOf(shown(name), kinds, values.kind),
          held.values[shown(name)],
          (id) => watches.find((watch) => watch.id === id)?.name,
        );
      return shown(name) === 'every' ? `every ${text}` : text;
    },
    heldFrom: (name) => levelText(held.from[shown(name)] ?? 'product', place),
    take: (name) =>
      setValues((old) => {
        const begun = withHeld(old, held);
        return { ...begun, own: [...new Set([...begun.own, name])] };
      }),
    giveBack: (name) =>
      setValues((old) => ({ ...old, own: old.own.filter((one) => !names(name).includes(one)) })),
  };
}
