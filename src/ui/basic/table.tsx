import type { ReactNode } from 'react';

/** What stands over a column, and the classes of its cell. */
export type Head = readonly [words: ReactNode, className?: string];

interface TableProps {
  heads: readonly Head[];
  /** Its rows. */
  children: ReactNode;
  caption?: string;
  className?: string;
  /** Bodies of further rows. */
  more?: ReactNode;
  /** How many rows there are with the heads, where not all of them may be there. */
  rowCount?: number;
  /** Rows become cards on a phone, and the heads go. */
  cards?: boolean;
}

/** A table of the desk: quiet heads over rows. */
export function Table(props: TableProps) {
  const { heads, children, more, rowCount, caption, className = '', cards = false } = props;
  return (
    <table aria-rowcount={rowCount} className={`w-full text-left ${className}`}>
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
      {more}
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
