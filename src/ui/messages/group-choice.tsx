'use client';

import type { WatchGroup } from '@/core/telling/route';
import { WatchPicker } from '@/ui/form/watch-picker';
import type { RouteChoices } from '@/views/messages/who-hears';

interface TicksProps {
  label: string;
  options: readonly { value: string; text: string }[];
  chosen: readonly string[];
  onChange: (chosen: string[]) => void;
}

/** Any number of a few, each a box with its word. */
export function Ticks({ label, options, chosen, onChange }: TicksProps) {
  if (options.length === 0) return null;
  return (
    <fieldset>
      <legend className="font-semibold">{label}</legend>
      <div className="mt-1 flex flex-wrap gap-x-5 gap-y-1">
        {options.map(({ value, text }) => (
          <label key={value} className="flex items-center gap-2">
            <input
              type="checkbox"
              className="accent-button size-4"
              checked={chosen.includes(value)}
              onChange={(event) =>
                onChange(event.target.checked ? [...chosen, value] : chosen.filter((one) => one !== value))
              }
            />
            {text}
          </label>
        ))}
      </div>
    </fieldset>
  );
}

interface GroupChoiceProps {
  what: string;
  group: WatchGroup;
  choices: RouteChoices;
  onChange: (change: Partial<WatchGroup>) => void;
}

/** Watches by section, tag, kind or name. */
export function GroupChoice({ what, group, choices, onChange }: GroupChoiceProps) {
  const same = (names: readonly string[]) => names.map((name) => ({ value: name, text: name }));
  return (
    <div className="flex flex-col gap-4">
      <Ticks
        label={`${what}: sections`}
        options={[...same(choices.sections), { value: '', text: 'without a section' }]}
        chosen={group.sections}
        onChange={(sections) => onChange({ sections })}
      />
      <Ticks
        label={`${what}: tags`}
        options={same(choices.tags)}
        chosen={group.tags}
        onChange={(tags) => onChange({ tags })}
      />
      <Ticks
        label={`${what}: kinds`}
        options={choices.kinds.map(({ id, title }) => ({ value: id, text: title }))}
        chosen={group.kinds}
        onChange={(kinds) => onChange({ kinds })}
      />
      <WatchPicker
        label={`${what}: single watches`}
        help="Any of what is ticked will do."
        watches={choices.watches}
        chosen={group.ids}
        onChange={(ids) => onChange({ ids })}
      />
    </div>
  );
}
