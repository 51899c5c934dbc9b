import NextLink from 'next/link';
import type { ComponentProps } from 'react';

/**
 * A link to another screen of the desk, which is asked for when somebody goes there. Asking ahead for all that is in
 * sight would be forty requests for one overview, again with each change, and no screen is there any sooner: what they
 * show is of the moment.
 */
export function Link(props: Omit<ComponentProps<typeof NextLink>, 'prefetch'>) {
  return <NextLink {...props} prefetch={false} />;
}
