'use client';

import { useState } from 'react';
import type { KindChoice } from '@/views/settings/kind-choices';

/** The kinds most people begin with; the others unfold. */
const FIRST = ['web', 'checkin', 'port', 'ping', 'name', 'certificate'];

interface KindChoiceProps {
  kinds: readonly KindChoice[];
  chosen: string;
  onChoose: (id: string) => void;
}

/** What is to be watched: a few kinds at first sight, all of them on demand. */
export function KindPicker({ kinds, chosen, onChoose }: KindChoiceProps) {
  const [all, setAll] = useState(!FIRST.includes(chosen));
  const first = FIRST.map((id) => kinds.find((kind) => kind.id === id)).filter((kind) => kind !== undefined);
  const more = kinds.filter((kind) => !FIRST.includes(kind.id));
  return (
    <fieldset>
      <legend className="mb-1 font-semibold">What is it?</legend>
      <div className="flex flex-wrap gap-2">
        {[...first, ...(all ? more : [])].map((kind) => (
          <label
            key={kind.id}
            className="border-edge has-[:checked]:bg-button has-[:checked]:text-button-ink has-[:focus-visible]:outline-lamp cursor-pointer rounded-lg border px-3 py-1.5 has-[:focus-visible]:outline-2"
          >
            <input
              type="radio"
              name="kind"
              className="sr-only"
              checked={chosen === kind.id}
              onChange={() => onChoose(kind.id)}
            />
            {kind.title}
          </label>
        ))}
        {!all && (
          <button type="button" className="px-2 py-1.5 underline" onClick={() => setAll(true)}>
            {more.length} more kinds
          </button>
        )}
      </div>
      <p className="text-muted mt-1 text-[0.8438rem]">{kinds.find((kind) => kind.id === chosen)?.help}</p>
    </fieldset>
  );
}
