import { Link } from '@/ui/basic/link';

interface ChoiceProps {
  label: string;
  options: { href: string; text: string; chosen: boolean }[];
}

/** A row of places of which one is chosen. */
export function Choice({ label, options }: ChoiceProps) {
  return (
    <nav
      aria-label={label}
      className="border-rule bg-card inline-flex rounded-lg border p-0.5 text-[0.8438rem]"
    >
      {options.map((option) => (
        <Link
          key={option.href}
          href={option.href}
          scroll={false}
          aria-current={option.chosen ? 'true' : undefined}
          className="aria-[current]:bg-button aria-[current]:text-button-ink text-muted rounded-md px-2.5 py-0.5 [overflow-wrap:break-word] aria-[current]:font-semibold"
        >
          {option.text}
        </Link>
      ))}
    </nav>
  );
}
