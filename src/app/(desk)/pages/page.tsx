import { capitalise, numberWord } from '@/core/text/words';
import { serverContext } from '@/server/context';
import { fetchPages } from '@/store/pages/pages';
import { ButtonAnchor, ButtonLink } from '@/ui/basic/button';
import { requestBase, requireRight } from '@/app/session';
import { AUDIENCE_WORDS, pageAddress } from '@/core/pages/page-address';
import { Link } from '@/ui/basic/link';

export const metadata = { title: 'Public pages' };

export default async function Pages() {
  await requireRight('write');
  const pages = await fetchPages(serverContext().db);
  const base = await requestBase();
  return (
    <div className="flex flex-col gap-5">
      <div className="flex flex-wrap items-center justify-between gap-3">
        <h1>
          {pages.length === 0
            ? 'The public sees nothing yet.'
            : `${capitalise(numberWord(pages.length))} public ${pages.length === 1 ? 'page' : 'pages'}.`}
        </h1>
        {pages.length > 0 && (
          <span className="flex gap-2">
            <ButtonLink href="/pages/texts">Texts</ButtonLink>
            <ButtonLink href="/pages/badges">Private badges</ButtonLink>
            <ButtonLink href="/pages/new" look="strong">
              Make a page
            </ButtonLink>
          </span>
        )}
      </div>
      {pages.length === 0 ? (
        <section className="sheet flex max-w-2xl flex-col items-start gap-3 p-6">
          <h2>A public page tells visitors how things are.</h2>
          <p>
            It shows the watches you choose under names you choose, what happened in the last ninety days, and
            what you write about it. It shows nothing else about the inside: no addresses, no causes.
          </p>
          <ButtonLink href="/pages/new" look="strong">
            Make the first page
          </ButtonLink>
        </section>
      ) : (
        <ul className="sheet px-5">
          {pages.map((page) => (
            <li
              key={page.id}
              className="border-rule flex flex-wrap items-center gap-3 border-t py-3 first:border-t-0"
            >
              <div className="min-w-0 flex-1 basis-64">
                <Link href={`/pages/${page.id}`} className="font-semibold">
                  {page.title}
                </Link>
                <p className="text-muted text-[0.875rem]">
                  {pageAddress(base, page)} · {AUDIENCE_WORDS[page.audience]}
                </p>
              </div>
              <ButtonLink href={`/pages/${page.id}`}>Incidents</ButtonLink>
              <ButtonAnchor href={pageAddress('', page)}>See it</ButtonAnchor>
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}
