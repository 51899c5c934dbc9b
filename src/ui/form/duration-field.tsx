'use client';

import { useState, type ReactNode } from 'react';
import { Field, INPUT_CLASS, Options } from './fields';

const UNITS = [
  { name: 'seconds', size: 1 },
  { name: 'minutes', size: 60 },
  { name: 'hours', size: 3600 },
  { name: 'days', size: 86_400 },
];

function unitFor(seconds: number): number {
  const fitting = UNITS.filter((u) => seconds > 0 && seconds % u.size === 0);
  return (fitting.at(-1) ?? UNITS[0]!).size;
}

interface DurationFieldProps {
  label: string;
  help?: ReactNode;
  error?: string;
  /** Whole seconds; NaN while the field holds no number. */
  seconds: number;
  onChange: (seconds: number) => void;
}

/** A length as a number and a unit; what is typed stays even when it is no number. */
export function DurationField({ label, help, error, seconds, onChange }: DurationFieldProps) {
  const [unit, setUnit] = useState(() => unitFor(seconds));
  const [text, setText] = useState(() => String(seconds / unitFor(seconds)));
  const tell = (newText: string, newUnit: number) => {
    onChange(newText.trim() === '' ? Number.NaN : Math.round(Number(newText) * newUnit));
  };
  return (
    <Field label={label} help={help} error={error}>
      {(props) => (
        <div className="flex gap-2">
          <input
            {...props}
            className={`${INPUT_CLASS} figures max-w-28`}
            inputMode="decimal"
            value={text}
            onChange={(event) => {
              setText(event.target.value);
              tell(event.target.value, unit);
            }}
          />
          <select
            aria-label={`${label}: unit`}
            className={`${INPUT_CLASS} max-w-32`}
            value={unit}
            onChange={(event) => {
              setUnit(Number(event.target.value));
              tell(text, Number(event.target.value));
            }}
          >
            <Options of={UNITS.map(({ size, name }) => ({ value: size, text: name }))} />
          </select>
        </div>
      )}
    </Field>
  );
}
