import { LANGUAGE_CODES, LANGUAGES } from '@/core/languages/language';
import { LOCALES } from '@/core/languages/moments';
import { sizeOfPicture } from '@/core/pages/picture';
import type { PublicFrame } from '@/views/pages/public-page';
import { useSheet } from './context';
import { fileFrom, hrefTo, USUAL_DAYS, type SheetAddress } from './place';

/** The logo, for each light; where the title does not stand beside it, it says the title. */
function Logo({ page }: { page: PublicFrame['page'] }) {
  const { place } = useSheet();
  const { logo, logoDark, title, titleShown, theme } = page;
  if (!logo) return null;
  const shown = (name: string, className: string) => {
    const { wide, high } = sizeOfPicture(name);
    return (
      <img
        className={className}
        src={fileFrom(place, `picture/${name}`)}
        // Twice as fine as it is shown.
        width={Math.round(wide / 2)}
        height={Math.round(high / 2)}
        alt={titleShown ? '' : title}
        loading={className === '' ? undefined : 'lazy'}
      />
    );
  };
  if (!logoDark || theme === 'light') return shown(logo, '');
  if (theme === 'dark') return shown(logoDark, '');
  return (
    <>
      {shown(logo, 'by-day')}
      {shown(logoDark, 'by-night')}
    </>
  );
}

/** What stands above all else on the page itself. */
export function Cover({ page: { cover } }: Pick<PublicFrame, 'page'>) {
  const { place } = useSheet();
  if (!cover) return null;
  const { wide, high } = sizeOfPicture(cover);
  return (
    <img className="cover" src={fileFrom(place, `picture/${cover}`)} width={wide} height={high} alt="" />
  );
}

interface MastheadProps extends Pick<PublicFrame, 'page' | 'zone'> {
  /** The sheet this is, for the same in another language. */
  address: SheetAddress | null;
}

/** Whose page it is, where else it leads, and in which light, language and times it is read. */
export function Masthead({ page, zone, address }: MastheadProps) {
  const { speech, place } = useSheet();
  return (
    <header className="masthead">
      <p className="brand">
        <a href={hrefTo(place, { sheet: 'page', days: USUAL_DAYS })}>
          <Logo page={page} />
          {(page.titleShown || !page.logo) && <span>{page.title}</span>}
        </a>
      </p>
      {page.links.length > 0 && (
        <nav className="links" aria-label={page.title}>
          {page.links.map(({ text, address: to }) => (
            <a key={to + text} href={to}>
              {text}
            </a>
          ))}
        </nav>
      )}
      <div className="choices">
        <span className="zone" data-zone={zone} data-yours={speech.say('times.yours', { zone: '{zone}' })}>
          {speech.say('times.page', { zone })}
        </span>
        {address && !place.filed && (
          <details className="languages">
            <summary>
              <span className="unseen">{speech.say('language.choose')}: </span>
              {LANGUAGES[speech.language]}
            </summary>
            <span className="list">
              {LANGUAGE_CODES.map((code) => (
                <a
                  key={code}
                  lang={LOCALES[code]}
                  hrefLang={LOCALES[code]}
                  aria-current={code === speech.language ? 'true' : undefined}
                  href={hrefTo({ ...place, chosen: code }, address)}
                >
                  {LANGUAGES[code]}
                </a>
              ))}
            </span>
          </details>
        )}
        {page.theme === 'both' && (
          <button type="button" className="theme" hidden aria-label={speech.say('theme.choose')}>
            <svg width="18" height="18" viewBox="0 0 24 24" aria-hidden="true">
              <path d="M20.5 14.5A8.5 8.5 0 0 1 9.5 3.5a8.5 8.5 0 1 0 11 11z" />
            </svg>
          </button>
        )}
      </div>
    </header>
  );
}
