import { publicTextVersion } from '@/cases/pages/public-texts';
import { serverContext } from '@/server/context';
import { fetchPages } from '@/store/pages/pages';
import { fetchPublicTexts, fetchSelfTellings } from '@/store/pages/public-texts';
import { fetchSections } from '@/store/watches/sections';
import { Crumbs } from '@/ui/basic/crumbs';
import { PublicTextForm } from '@/ui/pages/texts/public-text-form';
import { SelfTellingForm } from '@/ui/pages/texts/self-telling-form';
import { requireRight } from '@/app/session';

export const metadata = { title: 'Texts for the public' };

export default async function PublicTexts() {
  await requireRight('write');
  const { db } = serverContext();
  const [texts, tellings, sections, pages] = await Promise.all([
    fetchPublicTexts(db),
    fetchSelfTellings(db),
    fetchSections(db),
    fetchPages(db),
  ]);
  const byItself = new Map(tellings.map(({ sectionId, ...telling }) => [sectionId, telling]));
  return (
    <div className="flex flex-col gap-5">
      <div>
        <Crumbs to={[{ href: '/pages', text: 'Public pages' }]} />
        <h1>What you say again and again</h1>
        <p className="text-muted mt-1.5">
          A text is filled in when you tell the public, and you read it before anybody else does; only a
          section that tells by itself does not wait for you.
        </p>
      </div>
      <div className="grid grid-cols-[minmax(0,1fr)] items-start gap-5 lg:grid-cols-2">
        <div className="flex flex-col gap-5">
          {texts.map((text) => (
            <section key={text.id} className="sheet p-5">
              <h2 className="mb-2">{text.name}</h2>
              <PublicTextForm
                key={publicTextVersion(text)}
                id={text.id}
                version={publicTextVersion(text)}
                initial={{ name: text.name, title: text.title, body: text.body, over: text.over }}
              />
            </section>
          ))}
          <section className="sheet p-5">
            <h2 className="mb-2">A new text</h2>
            <PublicTextForm initial={{ name: '', title: '', body: '', over: '' }} />
          </section>
        </div>
        <section className="sheet p-5">
          <h2>Sections that tell by themselves</h2>
          <p className="text-muted mt-1 mb-3">
            Where an outage lasts long and nobody has written anything, a section can publish a text, and
            close it once all is up again. As soon as you say how it goes on, it is yours.
          </p>
          {sections.length === 0 && <p className="text-muted">There is no section yet.</p>}
          {texts.length === 0 && sections.length > 0 && <p className="text-muted">Keep a text first.</p>}
          {texts.length > 0 && (
            <div className="flex flex-col gap-6">
              {sections.map((section) => (
                <SelfTellingForm
                  key={section.id}
                  section={{ id: section.id, name: section.name }}
                  texts={texts.map(({ id, name }) => ({ id, name }))}
                  pages={pages.map(({ id, title }) => ({ id, name: title }))}
                  now={byItself.get(section.id) ?? null}
                />
              ))}
            </div>
          )}
        </section>
      </div>
    </div>
  );
}
