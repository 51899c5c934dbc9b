import { shownAddress, type FollowerKind } from '@/core/followers/follower';
import { notFound } from 'next/navigation';
import { LANGUAGES } from '@/core/languages/language';
import { serverContext } from '@/server/context';
import { fetchFollower } from '@/store/followers/followers';
import { fetchLettersOf } from '@/store/followers/letters';
import { Crumbs } from '@/ui/basic/crumbs';
import { DeleteThroughApi } from '@/ui/basic/delete-through-api';
import { Time } from '@/ui/form/zone';
import { WakeFollower } from '@/ui/pages/followers/follower-forms';
import { pageOfPath } from '@/app/page-of';
import { requireRight } from '@/app/session';

export const metadata = { title: 'Follower' };

const SENT_WORDS: Record<string, string> = {
  waiting: 'on its way',
  sent: 'sent',
  'given-up': 'did not arrive',
};

const TOLD_BY: Readonly<Record<FollowerKind, string>> = {
  mail: 'mail',
  webhook: 'signed events',
  push: 'pushes to a browser',
};

/** Everything that is kept of one person. */
export default async function FollowerPage({
  params,
}: {
  params: Promise<{ id: string; follower: string }>;
}) {
  await requireRight('operate');
  const { id, follower: which } = await params;
  const page = await pageOfPath(id);
  const { db } = serverContext();
  const follower = /^[1-9]\d{0,14}$/.test(which) ? await fetchFollower(db, Number(which)) : null;
  if (!follower || follower.pageId !== page.id) notFound();
  const letters = await fetchLettersOf(db, follower.id);
  const address = shownAddress(follower);
  const { state, choice, language, consent, madeAt, askedAt, confirmedAt, refusals, asideWhy } = follower;
  const facts: [string, React.ReactNode][] = [
    ['Told by', TOLD_BY[follower.kind]],
    ['Hears of', choice.labels ? choice.labels.join(', ') : 'everything on the page'],
    ['Maintenance', choice.maintenance ? 'yes' : 'no'],
    ['Language', LANGUAGES[language]],
    ['Kept since', <Time key="made" at={madeAt} />],
    ...(askedAt === null ? [] : [['Asked', <Time key="asked" at={askedAt} />] as [string, React.ReactNode]]),
    ...(confirmedAt === null
      ? []
      : [['Said yes', <Time key="yes" at={confirmedAt} />] as [string, React.ReactNode]]),
    ...(consent === '' ? [] : [['How that is known', consent] as [string, React.ReactNode]]),
    ...(refusals > 0 ? [['Refused one after the other', refusals] as [string, React.ReactNode]] : []),
  ];
  return (
    <div className="flex max-w-4xl flex-col gap-5">
      <div className="flex flex-wrap items-start gap-3">
        <div className="min-w-0 flex-1 basis-72">
          <Crumbs
            to={[
              { href: `/pages/${page.id}`, text: page.title },
              { href: `/pages/${page.id}/followers`, text: 'Followers' },
            ]}
          />
          <h1 className="break-words">
            {address} {state === 'follows' ? 'is told.' : state === 'asked' ? 'was asked.' : 'was put aside.'}
          </h1>
          {asideWhy && <p className="text-muted mt-1.5">{asideWhy}</p>}
        </div>
        {state === 'aside' && <WakeFollower id={follower.id} />}
        <DeleteThroughApi
          trigger="Erase"
          path={`/followers/${follower.id}`}
          then={`/pages/${page.id}/followers`}
          title={`Erase ${address}?`}
          explanation="Everything kept of them goes for good, and nothing more is sent."
        />
      </div>
      <section className="sheet px-5 py-4">
        <h2>All that is kept</h2>
        <dl className="mt-2 grid grid-cols-[10rem_minmax(0,1fr)] gap-x-4 gap-y-1">
          {facts.map(([name, value]) => (
            <div key={name} className="contents">
              <dt className="text-muted">{name}</dt>
              <dd className="break-words">{value}</dd>
            </div>
          ))}
        </dl>
      </section>
      <section className="sheet px-5 py-4">
        <h2>What they were sent</h2>
        {letters.length === 0 ? (
          <p className="text-muted mt-1">Nothing yet.</p>
        ) : (
          <ul className="mt-1">
            {letters.map(({ facts: told, state: how, at, said }, i) => (
              <li key={i} className="border-rule border-t py-2">
                <p className="font-semibold">
                  {'title' in told ? told.title : 'The question whether they want it'}
                </p>
                <p className="text-muted text-[0.875rem]">
                  {SENT_WORDS[how]}
                  {at !== null && (
                    <>
                      {' '}
                      <Time at={at} />
                    </>
                  )}
                  {said && `: ${said}`}
                </p>
              </li>
            ))}
          </ul>
        )}
      </section>
    </div>
  );
}
