'use client';

import type { WatchGroup } from '@/core/telling/route';
import { Ticks } from '@/ui/form/ticks';
import { WatchPicker, type PickableWatch } from '@/ui/form/watch-picker';
import type { RouteChoices } from '@/views/messages/route-choices';

interface GroupChoiceProps {
  what: string;
  group: WatchGroup;
  choices: RouteChoices;
  onChange: (change: Partial<WatchGroup>) => void;
  /** A watch that was picked, with its name. */
  onMet: (watch: PickableWatch) => void;
}

/** Watches by section, tag, kind or name. */
export function GroupChoice({ what, group, choices, onChange, onMet }: GroupChoiceProps) {
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
        onMet={onMet}
        onChange={(ids) => onChange({ ids })}
      />
    </div>
  );
}
