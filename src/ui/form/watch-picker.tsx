'use client';

import { useId, useState, type ReactNode } from 'react';
import { MOST_PICKABLE } from '@/core/settings/pickable';
import { INPUT_CLASS } from './fields';
import { useFoundWatches } from './use-found-watches';

export interface PickableWatch {
  id: number;
  name: string;
  /** It was deleted, and may come back to where it was chosen. */
  deleted?: true;
}

export function calledIn({ name, deleted }: PickableWatch): string {
  return deleted ? `${name} (deleted)` : name;
}

interface WatchPickerProps {
  label: string;
  help: ReactNode;
  error?: string;
  /** All there are, or the first of them and those that are chosen; of more than so many, others are asked for. */
  watches: readonly PickableWatch[];
  chosen: readonly number[];
  onChange: (chosen: number[]) => void;
  /** One that was chosen, with its name: it may not be among those above. */
  onMet?: (watch: PickableWatch) => void;
  /** Those that are not offered. */
  without?: ReadonlySet<number>;
}

/** So many are shown at once; the rest is found by typing. */
const MOST_SHOWN = 8;
/** So many are asked for, so that some are left beside those that are chosen. */
const MOST_FOUND = 50;
const NONE: readonly PickableWatch[] = [];

/** Whether others are asked for by their names. */
export function areMore(watches: readonly PickableWatch[]): boolean {
  return watches.length >= MOST_PICKABLE - 1;
}

/** Picks any number of other watches; a long list is narrowed by typing. */
export function WatchPicker(props: WatchPickerProps) {
  const { label, help, error, watches, chosen, onChange, onMet, without } = props;
  const id = useId();
  const [typed, setTyped] = useState('');
  const wanted = typed.trim().toLowerCase();
  // Not all may be there (the watch itself is left out of them): then names are asked for, and those that were found stay known.
  const more = areMore(watches);
  const found = useFoundWatches(more ? typed.trim() : '', MOST_FOUND)?.watches ?? NONE;
  const [met, setMet] = useState<readonly PickableWatch[]>(NONE);
  const known: readonly PickableWatch[] = [
    ...new Map([...met, ...found, ...watches].map((watch) => [watch.id, watch])).values(),
  ];
  const picked = known.filter((watch) => chosen.includes(watch.id));
  const others = known.filter(
    (watch) =>
      !chosen.includes(watch.id) &&
      !without?.has(watch.id) &&
      // What was deleted is offered to whoever has just taken it off.
      (!watch.deleted || met.some(({ id: flipped }) => flipped === watch.id)) &&
      watch.name.toLowerCase().includes(wanted),
  );
  const shown = [...picked, ...others.slice(0, MOST_SHOWN)];
  const flip = (watch: PickableWatch, on: boolean) => {
    setMet((before) => [...before, watch]);
    onMet?.(watch);
    onChange(on ? [...chosen, watch.id] : chosen.filter((other) => other !== watch.id));
  };
  return (
    <fieldset className="flex flex-col gap-1" aria-describedby={`${id}-help`}>
      <legend className="font-semibold">{label}</legend>
      {watches.length > MOST_SHOWN && (
        <input
          className={INPUT_CLASS}
          aria-label={`${label}: find a watch`}
          placeholder="Find a watch"
          value={typed}
          onChange={(event) => setTyped(event.target.value)}
        />
      )}
      {shown.map((watch) => (
        <label key={watch.id} className="flex items-center gap-2">
          <input
            type="checkbox"
            className="accent-button size-4"
            checked={chosen.includes(watch.id)}
            onChange={(event) => flip(watch, event.target.checked)}
          />
          {calledIn(watch)}
        </label>
      ))}
      {watches.length === 0 && <p className="text-muted">There are no other watches yet.</p>}
      {others.length > MOST_SHOWN && (
        <p className="text-muted text-[0.8438rem]">
          {more ? 'There are more' : `${others.length - MOST_SHOWN} more`}; type to find them.
        </p>
      )}
      {error && <p className="text-down-text text-[0.875rem] font-semibold">{error}</p>}
      <p id={`${id}-help`} className="text-muted text-[0.8438rem]">
        {help}
      </p>
    </fieldset>
  );
}
