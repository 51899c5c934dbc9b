'use client';

import { X } from 'lucide-react';
import { useState, type KeyboardEvent } from 'react';
import { nextColour, type Tag as TagData } from '@/core/settings/tag';
import { Field, INPUT_CLASS } from '@/ui/form/fields';
import { Tag } from '@/ui/basic/tag';

interface TagFieldProps {
  label?: string;
  help?: string;
  chosen: readonly string[];
  known: readonly Pick<TagData, 'name' | 'colour'>[];
  error?: string;
  onChange: (names: string[]) => void;
}

/** Chooses tags: those there are by a click, new ones by typing and Enter. */
export function TagField({
  label = 'Tags',
  help = 'They cut across sections. Enter adds one; a new name makes a new tag.',
  chosen,
  known,
  error,
  onChange,
}: TagFieldProps) {
  const [typed, setTyped] = useState('');
  const colourOf = (name: string) => known.find((tag) => tag.name === name)?.colour ?? nextColour(known);
  const add = (name: string) => {
    const names = name
      .split(',')
      .map((one) => one.trim())
      .filter(Boolean);
    if (names.length > 0) onChange([...new Set([...chosen, ...names])]);
    setTyped('');
  };
  const onKey = (event: KeyboardEvent) => {
    if (event.key !== 'Enter' && event.key !== ',') return;
    event.preventDefault();
    add(typed);
  };
  const others = known.filter((tag) => !chosen.includes(tag.name));
  return (
    <Field label={label} help={help} error={error}>
      {(props) => (
        <div className="flex flex-col gap-2">
          {chosen.length > 0 && (
            <ul className="flex flex-wrap gap-1.5">
              {chosen.map((name) => (
                <li key={name} className="flex items-center">
                  <Tag tag={{ name, colour: colourOf(name) }} />
                  <button
                    type="button"
                    className="text-muted hover:text-ink grid size-6 place-items-center"
                    aria-label={`Take off ${name}`}
                    onClick={() => onChange(chosen.filter((other) => other !== name))}
                  >
                    <X size={14} aria-hidden />
                  </button>
                </li>
              ))}
            </ul>
          )}
          <input
            {...props}
            className={INPUT_CLASS}
            value={typed}
            placeholder={chosen.length === 0 ? 'pier' : ''}
            onChange={(event) => setTyped(event.target.value)}
            onKeyDown={onKey}
            onBlur={() => add(typed)}
          />
          {others.length > 0 && (
            <ul className="flex flex-wrap gap-1.5">
              {others.slice(0, 12).map((tag) => (
                <li key={tag.name}>
                  <button
                    type="button"
                    className="min-h-6 opacity-80 hover:opacity-100"
                    aria-label={`Add ${tag.name}`}
                    onClick={() => add(tag.name)}
                  >
                    <Tag tag={tag} />
                  </button>
                </li>
              ))}
            </ul>
          )}
        </div>
      )}
    </Field>
  );
}
