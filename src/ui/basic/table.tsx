import type { ReactNode } from 'react';

/** What stands over a column, and the classes of its cell. */
export type Head = readonly [words: ReactNode, className?: string];

interface TableProps {
  heads: readonly Head[];
  /** Its rows. */
  children: ReactNode;
  caption?: string;
  className?: string;
  /** Rows become cards on a phone, and the heads go. */
  cards?: boolean;
}

/** A table of the desk: quiet heads over rows. */
export function Table({ heads, children, caption, className = '', cards = false }: TableProps) {
  return (
    <table className={`w-full text-left ${className}`}>
      {caption && <caption className="mb-1 text-left font-semibold">{caption}</caption>}
      <thead className={`text-muted text-[0.8125rem] ${cards ? 'max-sm:hidden' : ''}`}>
        <tr>
          {heads.map(([words, headClass = ''], i) => (
            <th key={i} className={`font-normal ${headClass}`}>
              {words}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>{children}</tbody>
    </table>
  );
}

interface TickProps {
  label: string;
  checked: boolean;
  disabled?: boolean;
  className?: string;
  onTick: (on: boolean) => void;
}

/** A box that chooses a row; its label is read out only. */
export function Tick({ label, checked, disabled, className = '', onTick }: TickProps) {
  return (
    <input
      type="checkbox"
      className={`accent-button size-4 ${className}`}
      aria-label={label}
      disabled={disabled}
      checked={checked}
      onChange={(event) => onTick(event.target.checked)}
    />
  );
}
