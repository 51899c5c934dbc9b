'use client';

interface TicksProps {
  label: string;
  options: readonly { value: string; text: string }[];
  chosen: readonly string[];
  onChange: (chosen: string[]) => void;
}

/** Any number of a few, each a box with its word. */
export function Ticks({ label, options, chosen, onChange }: TicksProps) {
  if (options.length === 0) return null;
  return (
    <fieldset>
      <legend className="font-semibold">{label}</legend>
      <div className="mt-1 flex flex-wrap gap-x-5 gap-y-1">
        {options.map(({ value, text }) => (
          <label key={value} className="flex items-center gap-2">
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
        ))}
      </div>
    </fieldset>
  );
}
