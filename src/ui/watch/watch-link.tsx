import type { ReactNode } from 'react';
import { stateWords } from '@/core/history/state-text';
import type { State } from '@/core/lifecycle/state';
import { Lantern } from '@/ui/basic/lantern';
import { Link } from '@/ui/basic/link';
import { stateTextClass } from '@/ui/basic/state-colour';

interface WatchLinkProps {
  watch: { id: number; name: string; state: State; warned: boolean };
  className?: string;
  /** Stands behind the name and the state. */
  children?: ReactNode;
}

/** The way to a watch, with its state by shape and, unless it is up, in words. Keys lead from one to the next. */
export function WatchLink({ watch, className = '', children }: WatchLinkProps) {
  return (
    <Link
      href={`/watches/${watch.id}`}
      data-watch-link
      className={`hover:bg-quiet flex items-center gap-2 rounded py-0.5 ${className}`}
    >
      <Lantern state={watch.state} />
      <span className="truncate font-medium">{watch.name}</span>
      {watch.state !== 'up' && (
        <span className={`text-[0.7812rem] whitespace-nowrap ${stateTextClass(watch.state)}`}>
          {stateWords(watch.state, watch.warned)}
        </span>
      )}
      {children}
    </Link>
  );
}
