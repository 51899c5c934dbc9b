'use client';

interface Chosen {
  chosen: readonly string[];
  onChange: (chosen: string[]) => void;
}

interface TickLineProps extends Chosen {
  value: string;
  text: string;
}

interface TicksProps extends Chosen {
  label: string;
  options: readonly { value: string; text: string }[];
}

/** One of those that can be ticked, with its word. */
export function TickLine({ value, text, chosen, onChange }: TickLineProps) {
  return (
    <label className="flex items-center gap-2">
      <input
        type="checkbox"
        className="accent-button size-4"
        checked={chosen.includes(value)}
        onChange={(event) =>
          onChange(event.target.checked ? [...chosen, value] : chosen.filter((one) => one !== value))
        }
      />
      {text}
    </label>
  );
}

/** Any number of a few, each a box with its word. */
export function Ticks({ label, options, chosen, onChange }: TicksProps) {
  if (options.length === 0) return null;
  return (
    <fieldset>
      <legend className="font-semibold">{label}</legend>
      <div className="mt-1 flex flex-wrap gap-x-5 gap-y-1">
        {options.map(({ value, text }) => (
          <TickLine key={value} {...{ value, text, chosen, onChange }} />
        ))}
      </div>
    </fieldset>
  );
}
