import type { OwnTroubleCard } from '@/views/overview/overview';
import { Ago } from '@/ui/basic/ago';

/** Says what is wrong with Calm Lantern itself, above all that it watches: its silence is not calm. */
export function OwnTroubles({ troubles, now }: { troubles: readonly OwnTroubleCard[]; now: number }) {
  if (troubles.length === 0) return null;
  return (
    <section aria-label="Calm Lantern itself" className="flex flex-col gap-2">
      {troubles.map((trouble) => (
        <div key={trouble.key} role="status" className="border-down bg-wash rounded-lg border-l-4 px-4 py-3">
          <p>
            <strong>{trouble.sentence}</strong>{' '}
            {trouble.began !== null && (
              <span className="text-muted">
                For <Ago since={trouble.began} now={now} suffix="." />
              </span>
            )}
          </p>
          <p className="text-muted">{trouble.advice}</p>
        </div>
      ))}
    </section>
  );
}
