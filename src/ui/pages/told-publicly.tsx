import Link from 'next/link';

/** What the public was told of an outage, or the way to tell it. */
export function ToldPublicly({
  outageId,
  incident,
}: {
  outageId: number;
  incident: { id: number; title: string } | null | undefined;
}) {
  return incident ? (
    <>
      public:{' '}
      <Link href={`/incidents/${incident.id}`} prefetch={false}>
        {incident.title}
      </Link>
    </>
  ) : (
    <Link href={`/incidents/new?outage=${outageId}`} prefetch={false}>
      Tell the public
    </Link>
  );
}
