import { Ago } from '@/ui/basic/ago';
import { Link } from '@/ui/basic/link';

/** Says that this machine itself cannot reach out, so that nobody takes its silence for calm. */
export function UplinkLost({ since, now }: { since: number; now: number }) {
  return (
    <p role="status" className="border-late bg-wash rounded-lg border-l-4 px-4 py-3">
      <strong>
        This machine cannot reach out for <Ago since={since} now={now} suffix="." />
      </strong>{' '}
      None of the addresses of its own line answers. What could not be looked at stands as not observed, and
      nothing is concluded from it.{' '}
      <Link href="/own-line" className="underline">
        This machine
      </Link>
    </p>
  );
}
