import { FOLLOWER_STATES, shownAddress, type FollowerState } from '@/core/followers/follower';
import { capitalise, numberWord } from '@/core/text/words';
import { pageAddress } from '@/core/pages/page-address';
import { serverContext } from '@/server/context';
import { ButtonAnchor } from '@/ui/basic/button';
import { Crumbs } from '@/ui/basic/crumbs';
import { DeleteThroughApi } from '@/ui/basic/delete-through-api';
import { Link } from '@/ui/basic/link';
import { Choice } from '@/ui/form/choice';
import { Time } from '@/ui/form/zone';
import { AddFollower, ImportFollowers } from '@/ui/pages/followers/follower-forms';
import { fetchFollowersView, MOST_FOLLOWERS_SHOWN, type FollowersView } from '@/views/pages/followers';
import { pageOfPath } from '@/app/page-of';
import { requireRight } from '@/app/session';

export const metadata = { title: 'Followers' };

interface FollowersProps {
  params: Promise<{ id: string }>;
  searchParams: Promise<{ state?: string; words?: string }>;
}

const STATE_WORDS: Record<FollowerState, string> = {
  asked: 'asked, not said yes',
  follows: 'told',
  aside: 'put aside',
};

function sentence({ counts: { follows } }: FollowersView): string {
  return follows === 0
    ? 'Nobody follows this page yet.'
    : `${capitalise(numberWord(follows))} ${follows === 1 ? 'follows' : 'follow'} this page.`;
}

function HowSent({ view, perHour, pageId }: { view: FollowersView; perHour: number | null; pageId: number }) {
  const { channel, letters } = view;
  return (
    <p className="text-muted mt-1.5">
      {channel === null ? (
        <>
          Visitors cannot ask to be told by mail: no mail channel is chosen.{' '}
          <Link href={`/pages/${pageId}/change`}>Choose one</Link>
        </>
      ) : (
        <>
          Through {channel.name}
          {!channel.enabled && ', which is switched off'}, at most {perHour} mails an hour.
        </>
      )}{' '}
      {letters.waiting > 0 && `${letters.waiting} on their way. `}
      {letters.givenUp > 0 && `${letters.givenUp} did not arrive.`}
    </p>
  );
}

export default async function Followers({ params, searchParams }: FollowersProps) {
  await requireRight('operate');
  const page = await pageOfPath((await params).id);
  const asked = await searchParams;
  const state = FOLLOWER_STATES.find((one) => one === asked.state);
  const words = asked.words?.trim().slice(0, 100) ?? '';
  const view = await fetchFollowersView(serverContext().db, page, {
    ...(state && { state }),
    ...(words && { words }),
  });
  const here = `/pages/${page.id}/followers`;
  return (
    <div className="flex flex-col gap-5">
      <div className="flex flex-wrap items-start gap-3">
        <div className="min-w-0 flex-1 basis-72">
          <Crumbs to={[{ href: `/pages/${page.id}`, text: page.title }]} />
          <h1>{sentence(view)}</h1>
          <HowSent view={view} perHour={page.follow?.perHour ?? null} pageId={page.id} />
        </div>
        {page.follow && (
          <ButtonAnchor href={`${pageAddress('', page)}follow`}>See where they ask</ButtonAnchor>
        )}
        <ButtonAnchor
          href={`/api/v1/pages/${page.id}/followers?as=csv`}
          download={`followers-${page.slug}.csv`}
        >
          Save all as CSV
        </ButtonAnchor>
      </div>
      <div className="grid grid-cols-[minmax(0,1fr)] items-start gap-5 lg:grid-cols-[minmax(0,1fr)_23rem]">
        <section className="sheet px-5 py-4">
          <div className="flex flex-wrap items-center gap-3">
            <Choice
              label="Which of them"
              options={[
                { href: here, text: 'All', chosen: !state },
                ...FOLLOWER_STATES.map((one) => ({
                  href: `${here}?state=${one}`,
                  text: `${STATE_WORDS[one]} ${view.counts[one]}`,
                  chosen: state === one,
                })),
              ]}
            />
            <form action={here} className="ml-auto">
              {state && <input type="hidden" name="state" value={state} />}
              <input
                name="words"
                defaultValue={words}
                aria-label="Find an address"
                placeholder="Find an address"
                className="border-edge bg-card rounded-lg border px-3 py-1.5"
              />
            </form>
          </div>
          {view.followers.length === 0 ? (
            <p className="text-muted mt-3">
              {words || state
                ? 'None of them fits.'
                : 'Visitors ask on the page, or you add who asked elsewhere: say a harbour office that wants to hear when booking is out.'}
            </p>
          ) : (
            <ul className="mt-2">
              {view.followers.map((one) => (
                <li key={one.id} className="border-rule flex flex-wrap items-center gap-3 border-t py-2">
                  <div className="min-w-0 flex-1 basis-56">
                    <p className="truncate font-semibold">
                      <Link href={`${here}/${one.id}`}>{shownAddress(one)}</Link>
                    </p>
                    <p className="text-muted text-[0.875rem]">
                      {STATE_WORDS[one.state]}
                      {one.state === 'aside' && one.asideWhy && `: ${one.asideWhy}`}
                      {one.choice.labels && ` · ${one.choice.labels.join(', ')}`}
                      {!one.choice.maintenance && ' · no maintenance'}
                      {' · since '}
                      <Time at={one.confirmedAt ?? one.madeAt} as="day" />
                    </p>
                  </div>
                  <DeleteThroughApi
                    trigger="Erase"
                    path={`/followers/${one.id}`}
                    title={`Erase ${shownAddress(one)}?`}
                    explanation="Everything kept of them goes for good, and nothing more is sent."
                  />
                </li>
              ))}
            </ul>
          )}
          {view.more && (
            <p className="text-muted mt-2">
              These are the newest {MOST_FOLLOWERS_SHOWN}; the others are found by a part of their address.
            </p>
          )}
        </section>
        <div className="flex flex-col gap-5">
          <section className="sheet px-5 py-4">
            <h2 className="mb-2">Add somebody</h2>
            <AddFollower pageId={page.id} />
          </section>
          <section className="sheet px-5 py-4">
            <h2 className="mb-2">Take a list in</h2>
            <ImportFollowers pageId={page.id} />
          </section>
        </div>
      </div>
    </div>
  );
}
