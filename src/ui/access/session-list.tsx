import type { OpenSession } from '@/store/access/accounts';
import { DeleteThroughApi } from '@/ui/basic/delete-through-api';
import { Time } from '@/ui/form/zone';

/** Where somebody is signed in, each to be ended by itself or all together. */
export function SessionList({ sessions, here }: { sessions: readonly OpenSession[]; here: number }) {
  return (
    <section className="sheet px-5 py-4">
      <h2>Where you are signed in</h2>
      <ul className="mt-1">
        {sessions.map((session) => (
          <li key={session.id} className="border-rule flex items-center gap-3 border-t py-2.5">
            <div className="min-w-0 flex-1">
              <p className="font-semibold">
                {session.client === '' ? 'From an unknown address' : `From ${session.client}`}
                {session.id === here && <span className="text-fine"> – here</span>}
              </p>
              <p className="text-muted truncate text-[0.9em]" title={session.agent}>
                {session.agent || 'with a program that gives no name'}
              </p>
              <p className="text-muted text-[0.9em]">
                since <Time at={session.createdAt} />, last used <Time at={session.usedAt} />
              </p>
            </div>
            {session.id !== here && (
              <DeleteThroughApi
                trigger="End it"
                path={`/api/sessions/${session.id}`}
                title="End this session?"
                explanation="Whoever uses it has to sign in again."
              />
            )}
          </li>
        ))}
      </ul>
      {sessions.length > 1 && (
        <div className="border-rule border-t pt-3">
          <DeleteThroughApi
            trigger="Sign out everywhere else"
            path="/api/sessions"
            title="Sign out everywhere else?"
            explanation="Only this session goes on; whoever uses another has to sign in again."
          />
        </div>
      )}
    </section>
  );
}
