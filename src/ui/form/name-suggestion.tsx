'use client';

import { uniqueName } from '@/core/settings/unique-name';

interface NameSuggestionProps {
  name: string;
  /** The names that are in use, without that of what is being changed. */
  names: readonly string[];
  /** What has the name already: "watch", "channel", … */
  what: string;
  /** How a free name is written, where not every text will do. */
  spell?: (name: string) => string;
  onTake: (name: string) => void;
}

/** Says while it is typed that a name is in use, and offers one that is free. */
export function NameSuggestion({ name, names, what, spell = (text) => text, onTake }: NameSuggestionProps) {
  const typed = name.trim();
  const free = typed === '' ? '' : spell(uniqueName(typed, names));
  if (typed === '' || free === spell(typed)) return null;
  return (
    <p className="text-late-text mt-1 text-[0.875rem]" role="status">
      Another {what} has this name.{' '}
      <button type="button" className="underline" onClick={() => onTake(free)}>
        Call it “{free}”
      </button>
    </p>
  );
}
