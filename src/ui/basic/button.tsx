import type { ComponentProps } from 'react';
import { Link } from '@/ui/basic/link';

const SHAPES = {
  strong: 'bg-button text-button-ink border-button hover:opacity-90',
  plain: 'bg-quiet text-ink border-rule hover:border-edge',
  danger: 'bg-transparent text-down-text border-down hover:bg-quiet',
};

const BASE =
  'inline-flex items-center gap-1.5 rounded-lg border px-3 min-h-9 py-1.5 text-[0.875rem] font-semibold whitespace-nowrap';

interface Look {
  look?: keyof typeof SHAPES;
}

export function Button({ look = 'plain', className = '', ...rest }: ComponentProps<'button'> & Look) {
  return <button type="button" className={`${BASE} ${SHAPES[look]} ${className}`} {...rest} />;
}

/** Leads out of the desk, or to what is served beside it: an address is taken as it is, its last slash too. */
export function ButtonAnchor({ look = 'plain', className = '', ...rest }: ComponentProps<'a'> & Look) {
  return <a className={`${BASE} ${SHAPES[look]} ${className}`} {...rest} />;
}

export function ButtonLink({ look = 'plain', className = '', ...rest }: ComponentProps<typeof Link> & Look) {
  return <Link className={`${BASE} ${SHAPES[look]} ${className}`} {...rest} />;
}
