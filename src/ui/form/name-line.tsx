'use client';

import { useState } from 'react';
import { Button } from '@/ui/basic/button';
import { INPUT_CLASS } from './fields';
import { NameSuggestion } from './name-suggestion';
import { OwnForm } from '@/ui/form/own-form';

export interface Others {
  what: string;
  names: readonly string[];
}

interface NameLineProps {
  /** For whoever cannot see what it stands beside. */
  label: string;
  initial?: string;
  action: string;
  placeholder?: string;
  /** What has a name already, and those names. */
  others?: Others;
  /** Returns what went wrong, or null; what was typed stays until it went well. */
  onSave: (name: string) => Promise<string | null>;
  onLeave?: () => void;
}

/** One line in which something is given a name. */
export function NameLine({
  label,
  initial = '',
  action,
  placeholder,
  others,
  onSave,
  onLeave,
}: NameLineProps) {
  const [name, setName] = useState(initial);
  const [problem, setProblem] = useState<string | null>(null);
  const save = async () => {
    const refused = await onSave(name);
    setProblem(refused);
    if (refused === null && !onLeave) setName('');
  };
  return (
    <OwnForm onSend={save} className="flex flex-wrap items-center gap-2">
      <input
        className={`${INPUT_CLASS} max-w-64`}
        aria-label={label}
        aria-invalid={problem ? true : undefined}
        placeholder={placeholder}
        value={name}
        autoFocus={onLeave !== undefined}
        onChange={(event) => setName(event.target.value)}
      />
      <Button type="submit">{action}</Button>
      {onLeave && <Button onClick={onLeave}>Leave it</Button>}
      {others && (
        <NameSuggestion
          name={name}
          what={others.what}
          names={others.names.filter((other) => other !== initial)}
          onTake={setName}
        />
      )}
      {problem && (
        <p role="alert" className="text-down-text w-full text-[0.875rem] font-semibold">
          {problem}
        </p>
      )}
    </OwnForm>
  );
}
