import type { Metadata } from 'next';
import { notFound } from 'next/navigation';
import { STRETCH_WORDS } from '@/core/history/line-text';
import { requestTime } from '@/server/base/clock';
import { serverContext } from '@/server/context';
import { fetchPageBySlug, type Page } from '@/store/pages/pages';
import { Ago } from '@/ui/basic/ago';
import { CalmLinePatterns } from '@/ui/charts/calm-line';
import { ReadLine } from '@/ui/charts/read-line';
import { Lantern } from '@/ui/basic/lantern';
import { Live } from '@/ui/live/live';
import { OpenIncident, PastIncident } from '@/ui/pages/public-incident';
import { stateTextClass } from '@/ui/basic/state-colour';
import { ThemeSwitch } from '@/ui/basic/theme-switch';
import { Time } from '@/ui/form/zone';
import { ZoneName } from '@/ui/basic/zone-name';
import { fetchPublicPage, type PublicRow } from '@/views/pages/public-page';

interface PublicPageProps {
  params: Promise<{ slug: string }>;
}

async function pageOf({ params }: PublicPageProps): Promise<Page> {
  const page = await fetchPageBySlug(serverContext().db, (await params).slug);
  if (!page) notFound();
  return page;
}

export async function generateMetadata(props: PublicPageProps): Promise<Metadata> {
  return { title: { absolute: (await pageOf(props)).title } };
}

function Row({ row, range }: { row: PublicRow; range: { from: number; to: number } }) {
  return (
    <li className="border-rule grid grid-cols-[minmax(0,1fr)_auto] items-center gap-x-4 border-b py-2 sm:grid-cols-[13rem_minmax(0,1fr)_9rem]">
      <span className="flex min-w-0 items-center gap-2.5">
        <Lantern state={row.state} size={18} />
        <span className="truncate font-medium">{row.label}</span>
        {row.state !== 'up' && (
          <span className={`text-[0.8125rem] ${stateTextClass(row.state)}`}>{STRETCH_WORDS[row.state]}</span>
        )}
        {row.state === 'up' && <span className="sr-only">up</span>}
      </span>
      <div className="max-sm:order-last max-sm:col-span-2">
        <ReadLine line={row.line} range={range} label={`${row.label}, last 90 days: ${row.words}.`} />
      </div>
      <span className="figures text-right text-[0.875rem]">
        {row.uptime}
        {row.since && (
          <span className="text-muted block text-[0.7812rem] whitespace-nowrap">
            watched since {row.since}
          </span>
        )}
      </span>
    </li>
  );
}

export default async function PublicPageView(props: PublicPageProps) {
  const page = await pageOf(props);
  const view = await fetchPublicPage(
    serverContext().db,
    page,
    requestTime(),
    serverContext().environment.zone,
  );
  return (
    <div className="mx-auto max-w-[1100px] px-5 py-6">
      <a href="#content" className="skip bg-button text-button-ink rounded-lg px-3 py-2 font-semibold">
        Skip to the content
      </a>
      <Live source={`/p/${page.slug}/live`} readAt={view.now} />
      <CalmLinePatterns />
      <header className="flex items-center gap-4">
        <p className="flex-1 font-serif text-xl font-medium">{view.title}</p>
        <span className="text-muted text-[0.875rem] max-sm:hidden">
          <ZoneName />
        </span>
        <ThemeSwitch />
      </header>
      <div className="mt-5 grid items-start gap-x-11 gap-y-8 lg:grid-cols-[minmax(0,1fr)_22rem]">
        <main id="content" tabIndex={-1} className="flex min-w-0 outline-none flex-col gap-6">
          <div>
            <h1 className="text-[2.6rem]">{view.sentence}</h1>
            <p className="text-muted mt-3">
              {view.checkedAt === null ? (
                'Not checked yet.'
              ) : (
                <>
                  Checked <Ago since={view.checkedAt} now={view.now} suffix=" ago" />.
                </>
              )}{' '}
              {view.intro}
            </p>
          </div>
          {view.open.map((incident) => (
            <OpenIncident key={incident.id} incident={incident} />
          ))}
          {view.sections.map((section, i) => (
            <section key={section.title}>
              <div className="text-muted flex justify-between text-[0.875rem]">
                <h2 className="font-sans text-[0.875rem] font-semibold">{section.title || 'Services'}</h2>
                {i === 0 && <span>90 days → now</span>}
              </div>
              <ul>
                {section.rows.map((row) => (
                  <Row key={row.label} row={row} range={view.range} />
                ))}
              </ul>
            </section>
          ))}
          {view.sections.length === 0 && <p className="text-muted">No service is shown here yet.</p>}
        </main>
        <aside className="flex flex-col gap-7">
          {view.coming.length > 0 && (
            <section>
              <h2 className="mb-2">Coming up</h2>
              {view.coming.map((window) => (
                <div key={window.id} className="sheet border-l-rest border-l-[5px] px-4 py-3">
                  <p className="font-semibold">{window.title}</p>
                  <p>
                    <Time at={window.begins} /> to <Time at={window.ends} />
                    {window.labels.length > 0 && `: ${window.labels.join(', ')}`}.
                  </p>
                </div>
              ))}
            </section>
          )}
          <section>
            <h2 className="mb-2">Diary</h2>
            {view.past.length === 0 ? (
              <p className="border-rule text-muted border-t py-3">
                {view.open.length > 0 ? 'No other incident' : 'No incident'} in the last 90 days.
              </p>
            ) : (
              <ol>
                {view.past.map((incident) => (
                  <PastIncident key={incident.id} incident={incident} />
                ))}
              </ol>
            )}
          </section>
        </aside>
      </div>
      <footer className="text-muted mt-8 flex flex-wrap justify-between gap-2 text-[0.8438rem]">
        <p>Dots are time nobody looked; it is left out of every figure.</p>
        <p>Kept by Calm Lantern</p>
      </footer>
    </div>
  );
}
