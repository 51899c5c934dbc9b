import { capitalise, numberWord } from '@/core/text/words';
import { serverContext } from '@/server/context';
import { fetchNamedBadges, type PrivateBadge } from '@/store/pages/private-badges';
import { fetchSections } from '@/store/watches/sections';
import { fetchPickable } from '@/store/watches/pickable';
import { fetchTags } from '@/store/watches/tags';
import { DeleteThroughApi } from '@/ui/basic/delete-through-api';
import { Time } from '@/ui/form/zone';
import { BadgeForm } from '@/ui/pages/badge-form';
import { PrivateBadgeForm } from '@/ui/pages/private-badge-form';
import { requestBase, requireRight } from '@/app/session';

export const metadata = { title: 'Private badges' };

function kindOf({ watchId, sectionId }: PrivateBadge): string {
  if (watchId !== null) return 'watch';
  return sectionId !== null ? 'section' : 'tag';
}

export default async function PrivateBadges() {
  await requireRight('write');
  const { db } = serverContext();
  const kept = await fetchNamedBadges(db);
  const shown = kept.flatMap(({ name, ...badge }) => (name === null ? [] : [{ badge, name }]));
  const [watches, sections, tags] = [await fetchPickable(db), await fetchSections(db), await fetchTags(db)];
  const base = await requestBase();
  const { length } = shown;
  return (
    <div className="flex flex-col gap-6">
      <div>
        <h1>
          {length === 0
            ? 'No badge for private use yet.'
            : `${capitalise(numberWord(length))} private ${length === 1 ? 'badge' : 'badges'}.`}
        </h1>
        <p className="text-muted mt-1.5 max-w-3xl">
          A badge of a watch, a section or a tag that need not stand on any public page: for a page of your
          own, a screen in the office, a note. Whoever knows its address sees it, and nobody can guess it.
        </p>
      </div>
      <PrivateBadgeForm
        watches={watches}
        sections={sections.map(({ id, name }) => ({ id, name }))}
        tags={tags.map(({ id, name }) => ({ id, name }))}
      />
      {length > 0 && (
        <>
          <ul className="sheet px-5">
            {shown.map(({ badge, name }) => (
              <li
                key={badge.id}
                className="border-rule flex flex-wrap items-center gap-3 border-t py-3 first:border-t-0"
              >
                <div className="flex-1">
                  <p className="font-semibold">{name}</p>
                  <p className="text-muted text-[0.875rem]">
                    a {kindOf(badge)}, made <Time at={badge.madeAt} />
                  </p>
                </div>
                <img src={`/badge/${badge.secret}.svg?shows=uptime`} alt={`${name}: its figure`} />
                <DeleteThroughApi
                  path={`/private-badges/${badge.id}`}
                  then="/pages/badges"
                  title={`Take the badge of ${name} away?`}
                  explanation="Its address leads nowhere from then on, wherever it stands."
                />
              </li>
            ))}
          </ul>
          <section className="flex flex-col gap-3">
            <h2>How it looks, and how to take it along</h2>
            <BadgeForm
              key={shown.map(({ badge }) => badge.id).join(' ')}
              pictures={`${base}/badge/`}
              leadsTo={`${base}/`}
              page={null}
              choices={shown.map(({ badge, name }) => ({
                value: badge.secret,
                text: `${kindOf(badge)} ${name}`,
                label: name,
              }))}
              language="en"
            />
          </section>
        </>
      )}
    </div>
  );
}
