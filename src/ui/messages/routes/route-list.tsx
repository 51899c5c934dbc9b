import { ButtonLink } from '@/ui/basic/button';
import { DeleteThroughApi } from '@/ui/basic/delete-through-api';
import type { RouteView } from '@/views/messages/who-hears';

/** Who hears what, when: each route a sentence. */
export function RouteList({ routes }: { routes: readonly RouteView[] }) {
  return (
    <section className="sheet px-5 py-4">
      <div className="flex flex-wrap items-center gap-3">
        <h2 className="mr-auto">Who hears what</h2>
        <ButtonLink href="/messages/watches">Watch by watch</ButtonLink>
        <ButtonLink href="/messages/texts">Texts</ButtonLink>
        <ButtonLink href="/messages/drills">Drill</ButtonLink>
        <ButtonLink href="/messages/routes/new">Add a route</ButtonLink>
      </div>
      {routes.length === 0 && (
        <p className="text-muted mt-1">
          A route says who hears what, and when. For example: when anything on the piers is down, Crew room
          hears at once, and Desk mail after 15 min.
        </p>
      )}
      <ul className="mt-2">
        {routes.map(({ route, sentence, watches }) => (
          <li key={route.id} className="border-rule border-t py-3">
            <div className="flex flex-wrap items-start gap-x-3 gap-y-2">
              <div className="min-w-0 flex-1 basis-80">
                <h3 className="font-semibold">{route.name}</h3>
                <p className="mt-0.5 font-serif">{sentence}</p>
                <p className="text-muted mt-1 text-[0.8438rem]">
                  {watches === 1 ? 'one watch' : `${watches} watches`}
                  {!route.enabled && ' · off: nothing goes by it'}
                </p>
              </div>
              <ButtonLink href={`/messages/routes/${route.id}`} aria-label={`Change ${route.name}`}>
                Change
              </ButtonLink>
              <DeleteThroughApi
                path={`/routes/${route.id}`}
                title={`Delete ${route.name}?`}
                explanation="What goes by this route alone is told to nobody from then on. Channels and watches stay."
              />
            </div>
          </li>
        ))}
      </ul>
    </section>
  );
}
