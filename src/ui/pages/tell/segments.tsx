'use client';

import { useId } from 'react';

interface SegmentsProps<T extends string> {
  label: string;
  /** The label is said, not shown. */
  quiet?: boolean;
  value: T;
  options: readonly { value: T; text: string }[];
  onChoose: (value: T) => void;
}

/** One of a few, side by side; arrow keys go from one to the next. */
export function Segments<T extends string>({
  label,
  quiet = false,
  value,
  options,
  onChoose,
}: SegmentsProps<T>) {
  const name = useId();
  return (
    <fieldset className="min-w-0">
      <legend className={quiet ? 'sr-only' : 'mb-1 font-semibold'}>{label}</legend>
      <div className="border-edge bg-card inline-flex flex-wrap overflow-hidden rounded-lg border">
        {options.map((option) => (
          <label
            key={option.value}
            className="has-[:checked]:bg-button has-[:checked]:text-button-ink has-[:focus-visible]:outline-lamp cursor-pointer px-3 py-1.5 text-[0.875rem] has-[:checked]:font-semibold has-[:focus-visible]:outline-2 has-[:focus-visible]:-outline-offset-2"
          >
            <input
              type="radio"
              className="sr-only"
              name={name}
              checked={option.value === value}
              onChange={() => onChoose(option.value)}
            />
            {option.text}
          </label>
        ))}
      </div>
    </fieldset>
  );
}
