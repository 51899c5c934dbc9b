import { Fragment } from 'react';
import { Link } from '@/ui/basic/link';

/** Where a screen hangs, from the menu on, above its sentence. */
export function Crumbs({ to }: { to: readonly { href: string; text: string }[] }) {
  return (
    <p className="text-muted text-[0.875rem]">
      {to.map(({ href, text }, i) => (
        <Fragment key={href}>
          {i > 0 && ' / '}
          <Link href={href}>{text}</Link>
        </Fragment>
      ))}
    </p>
  );
}

export const MESSAGES = { href: '/messages', text: 'Messages' };
export const TEXTS = { href: '/messages/texts', text: 'Texts' };
export const MAINTENANCE = { href: '/maintenance', text: 'Maintenance' };
