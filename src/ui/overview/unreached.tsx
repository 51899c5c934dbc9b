import Link from 'next/link';

/** Said wherever trouble would go unheard. */
export function Unreached({ what }: { what: string }) {
  return (
    <p className="sheet border-late border-l-4 px-4 py-2.5" role="note">
      <strong>{what} reaches no channel.</strong> If it went down now, nobody would be told.{' '}
      <Link href="/messages" className="underline">
        Connect a chat room
      </Link>
    </p>
  );
}
