'use client';

import { Ticks } from '@/ui/form/ticks';
import { WatchPicker } from '@/ui/form/watch-picker';
import type { CoverageChoices } from '@/views/maintenance/planned';

export interface CoverageValues {
  watchIds: number[];
  sectionIds: number[];
  tagIds: number[];
}

interface CoverageFieldProps {
  choices: CoverageChoices;
  values: CoverageValues;
  error?: string;
  onChange: (change: Partial<CoverageValues>) => void;
}

const asOptions = (all: readonly { id: number; name: string }[]) =>
  all.map(({ id, name }) => ({ value: String(id), text: name }));

/** What maintenance is for: watches, whole sections, all that carry a tag. */
export function CoverageField({ choices, values, error, onChange }: CoverageFieldProps) {
  return (
    <div className="flex flex-col gap-3">
      <WatchPicker
        label="Watches"
        help="Whole sections and tags below hold for watches that come later, too."
        error={error}
        watches={choices.watches}
        chosen={values.watchIds}
        onChange={(watchIds) => onChange({ watchIds })}
      />
      <Ticks
        label="All of a section"
        options={asOptions(choices.sections)}
        chosen={values.sectionIds.map(String)}
        onChange={(ids) => onChange({ sectionIds: ids.map(Number) })}
      />
      <Ticks
        label="All with a tag"
        options={asOptions(choices.tags)}
        chosen={values.tagIds.map(String)}
        onChange={(ids) => onChange({ tagIds: ids.map(Number) })}
      />
    </div>
  );
}
