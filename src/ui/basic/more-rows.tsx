import { ButtonLink } from './button';

interface MoreRowsProps {
  /** How many of how many have a row. */
  drawn: number;
  shown: number;
  /** Where all of them are. */
  href: string;
}

/** Says that a list goes on, and leads to all of it. */
export function MoreRows({ drawn, shown, href }: MoreRowsProps) {
  if (drawn >= shown) return null;
  return (
    <p className="mt-3 flex flex-wrap items-center gap-3">
      <span className="text-muted">
        These are the first {drawn} of {shown}. Narrow the list, or
      </span>
      <ButtonLink href={href}>Show all {shown}</ButtonLink>
    </p>
  );
}
