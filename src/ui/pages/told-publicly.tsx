import { Link } from '@/ui/basic/link';

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
      public: <Link href={`/incidents/${incident.id}`}>{incident.title}</Link>
    </>
  ) : (
    <Link href={`/incidents/new?outage=${outageId}`}>Tell the public</Link>
  );
}
