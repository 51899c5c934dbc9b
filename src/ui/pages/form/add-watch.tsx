'use client';

import { INPUT_CLASS, Options } from '@/ui/form/fields';
import { areMore, WatchPicker, type PickableWatch } from '@/ui/form/watch-picker';

const NONE: readonly number[] = [];

interface AddWatchProps {
  label: string;
  watches: readonly PickableWatch[];
  /** Those that stand in the section already. */
  used: ReadonlySet<number>;
  onAdd: (watch: PickableWatch) => void;
}

/** Adds a line: from a list, or by its name where there are many. */
export function AddWatch({ label, watches, used, onAdd }: AddWatchProps) {
  const unused = watches.filter(({ id, deleted }) => !used.has(id) && !deleted);
  if (areMore(watches)) {
    return (
      <WatchPicker
        label={label}
        help="Each becomes a line of its own."
        watches={watches}
        chosen={NONE}
        without={used}
        onChange={() => undefined}
        onMet={onAdd}
      />
    );
  }
  return (
    <select
      aria-label={label}
      className={`${INPUT_CLASS} max-w-72`}
      value=""
      onChange={(event) => {
        const watch = unused.find((one) => one.id === Number(event.target.value));
        if (watch) onAdd(watch);
      }}
    >
      <option value="">Add a watch…</option>
      <Options of={unused.map(({ id, name }) => ({ value: id, text: name }))} />
    </select>
  );
}
