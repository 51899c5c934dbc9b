import { requireRight } from '@/app/session';
import { DRILL_HAPPENINGS } from '@/core/telling/ahead/drill';
import { serverContext } from '@/server/context';
import { fetchDrills } from '@/store/messages/drills';
import { fetchPickable } from '@/store/watches/pickable';
import { Link } from '@/ui/basic/link';
import { Time } from '@/ui/form/zone';
import { DrillForm } from '@/ui/messages/drill-form';
import { Crumbs, MESSAGES } from '@/ui/basic/crumbs';

export const metadata = { title: 'Drill' };

const MOST_SHOWN = 20;
const MOST_NAMED = 3;

function namesOf(watches: readonly { name: string }[]): string {
  const named = watches.slice(0, MOST_NAMED).map(({ name }) => name);
  const left = watches.length - named.length;
  return left === 0 ? named.join(' · ') : `${named.join(' · ')} and ${left} more`;
}

export default async function Drills() {
  await requireRight('operate');
  const { db } = serverContext();
  const drills = await fetchDrills(db, { limit: MOST_SHOWN });
  return (
    <div className="flex flex-col gap-5">
      <div>
        <Crumbs to={[MESSAGES]} />
        <h1>Does the right person hear?</h1>
        <p className="text-muted mt-1.5 max-w-3xl">
          A drill sends a made-up outage through routes and channels, marked as a drill in every message. It
          touches no figures, no history and no public page.
        </p>
      </div>
      <div className="grid grid-cols-[minmax(0,1fr)] items-start gap-5 lg:grid-cols-[minmax(0,1fr)_24rem]">
        <DrillForm watches={await fetchPickable(db)} />
        <section className="sheet px-5 py-4">
          <h2>Drills so far</h2>
          {drills.length === 0 ? (
            <p className="text-muted mt-1">None yet. Each stands here with what arrived, and how fast.</p>
          ) : (
            <ul className="mt-2">
              {drills.map((drill) => (
                <li key={drill.id} className="border-rule border-t py-2.5">
                  <Link href={`/messages/drills/${drill.id}`} className="font-semibold">
                    {namesOf(drill.watches)}
                  </Link>
                  <p className="text-muted text-[0.8438rem]">
                    <Time at={drill.began} />, {DRILL_HAPPENINGS[drill.happening]}
                    {drill.ended === null && ' · goes on'}
                  </p>
                </li>
              ))}
            </ul>
          )}
        </section>
      </div>
    </div>
  );
}
