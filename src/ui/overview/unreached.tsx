import { Link } from '@/ui/basic/link';

interface UnreachedProps {
  unheard: { count: number; first: readonly { id: number; name: string }[] };
  /** How many watches there are in all. */
  watches: number;
}

/** So many are named. */
const MOST_NAMED = 3;

/** Said wherever trouble would go unheard. */
export function Unreached({ unheard, watches }: UnreachedProps) {
  const { count, first } = unheard;
  if (count === 0) return null;
  const left = count - MOST_NAMED;
  const named = first.slice(0, MOST_NAMED);
  return (
    <p className="sheet border-late border-l-4 px-4 py-2.5" role="note">
      {count === watches && watches > 1 ? (
        <strong>No watch reaches anybody.</strong>
      ) : (
        named.map(({ id, name }, i) => (
          <strong key={id}>
            {i > 0 && (i === named.length - 1 && left <= 0 ? ' and ' : ', ')}
            <Link href={`/watches/${id}`}>{name}</Link>
          </strong>
        ))
      )}
      {count === watches && watches > 1
        ? ' If one went down now, nobody would be told. '
        : `${left > 0 ? ` and ${left} more` : ''} would tell nobody. `}
      <Link href="/messages" className="underline">
        See who hears what
      </Link>
    </p>
  );
}
