import type { ReactNode } from 'react';
import { LANGUAGE_CODES, LANGUAGES } from '@/core/languages/language';
import { LOCALES } from '@/core/languages/moments';
import type { PublicFrame } from '@/views/pages/public-page';
import { Lamps } from '../parts/lamp';
import { useSheet } from './context';
import { fileFrom, hrefTo, USUAL_DAYS, type SheetAddress } from './place';

/** Right to left is a matter of the language; none that ships is. */
const DIRECTIONS: Partial<Record<string, 'rtl'>> = {};

interface DocumentProps {
  frame: PublicFrame;
  /** What the window is called. */
  title: string;
  /** The sheet this is, for the same in another language; null for one that has no address. */
  address: SheetAddress | null;
  /** When a copy in a folder was made; null for one that is served. */
  madeAt: number | null;
  /** Whether it may be listed by search engines. */
  listed: boolean;
  description: string;
  /** The name of the sheet of the page's own colours and rules; null where it has none. */
  lookFile: string | null;
  /** Nothing stands around it: it is shown within a frame. */
  bare?: boolean;
  children: ReactNode;
}

function Head({ frame, title, description, listed, lookFile }: DocumentProps) {
  const { place, assets, speech } = useSheet();
  const { page } = frame;
  return (
    <head>
      <meta charSet="utf-8" />
      <title>{title}</title>
      <meta name="viewport" content="width=device-width, initial-scale=1" />
      <meta name="color-scheme" content={page.theme === 'both' ? 'light dark' : page.theme} />
      {!listed && <meta name="robots" content="noindex, nofollow" />}
      <meta name="description" content={description} />
      <meta property="og:title" content={page.title} />
      <meta property="og:description" content={page.socialText || description} />
      <meta property="og:type" content="website" />
      {page.theme === 'both' && (place.live || place.filed) && (
        <script src={fileFrom(place, assets('first.js'))} />
      )}
      <link rel="stylesheet" href={fileFrom(place, assets('page.css'))} />
      {lookFile && <link rel="stylesheet" href={fileFrom(place, lookFile)} />}
      <link rel="icon" type="image/svg+xml" href={fileFrom(place, assets('lantern.svg'))} />
      <link
        rel="alternate"
        type="application/atom+xml"
        title={speech.say('feeds.atom')}
        href={fileFrom(place, 'feed.atom')}
      />
      <link
        rel="alternate"
        type="application/feed+json"
        title={speech.say('feeds.json')}
        href={fileFrom(place, 'feed.json')}
      />
      <link
        rel="alternate"
        type="text/calendar"
        title={speech.say('feeds.calendar')}
        href={fileFrom(place, 'maintenance.ics')}
      />
      {(place.live || place.filed) && <script src={fileFrom(place, assets('page.js'))} defer />}
    </head>
  );
}

function Masthead({ frame: { page, zone }, address }: DocumentProps) {
  const { speech, place } = useSheet();
  return (
    <header className="masthead">
      <p className="brand">
        <a href={hrefTo(place, { sheet: 'page', days: USUAL_DAYS })}>{page.title}</a>
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

function Foot({ frame: { page }, madeAt }: DocumentProps) {
  const { speech, zone } = useSheet();
  return (
    <footer className="foot">
      <p>{speech.say('dots')}</p>
      {madeAt !== null && (
        <p
          className="made"
          data-made={madeAt}
          data-old={speech.say('copy.old', { at: speech.at(madeAt, zone, 'moment') })}
        >
          {speech.say('copy.made', { at: speech.at(madeAt, zone, 'moment') })}
        </p>
      )}
      {page.contact && <p className="contact">{speech.say('contact', { how: page.contact })}</p>}
      {page.footer && <p className="own-words">{page.footer}</p>}
      {page.credit && <p className="credit">{speech.say('credit')}</p>}
    </footer>
  );
}

/** A whole sheet of a public page, complete without any script. */
export function Document(props: DocumentProps) {
  const { speech, place } = useSheet();
  const { page } = props.frame;
  const isLive = props.address?.sheet === 'page' && place.live;
  const locale = LOCALES[speech.language];
  return (
    <html
      lang={locale}
      dir={DIRECTIONS[speech.language]}
      className={`letters-${page.letters} ${page.density} ${page.width}`}
      data-theme={page.theme === 'both' ? undefined : page.theme}
      data-day-link={speech.say('day.link')}
      data-day-close={speech.say('day.close')}
      data-live={isLive ? fileFrom(place, 'live') : undefined}
    >
      <Head {...props} />
      {props.bare ? (
        <body>
          <Lamps />
          <main className="bare">{props.children}</main>
        </body>
      ) : (
        <body>
          <a className="skip" href="#content">
            {speech.say('skip')}
          </a>
          <Lamps />
          <div className="page">
            <Masthead {...props} />
            <main id="content" tabIndex={-1}>
              {props.children}
            </main>
            <Foot {...props} />
          </div>
        </body>
      )}
    </html>
  );
}
