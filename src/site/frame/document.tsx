import type { ReactNode } from 'react';
import { LOCALES } from '@/core/languages/moments';
import type { PublicFrame } from '@/views/pages/public-page';
import { typeOfPicture } from '@/core/pages/picture';
import { SOCIAL_SIZE } from '../pictures/size';
import { Lamps } from '../parts/lamp';
import { useSheet } from './context';
import { Cover, Masthead } from './masthead';
import { fileFrom, type SheetAddress } from './place';

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
  /** Where the page begins, as a whole address; null where that is not known. */
  whole: string | null;
  /** Nothing stands around it: it is shown within a frame. */
  bare?: boolean;
  children: ReactNode;
}

function Head({ frame, title, description, listed, lookFile, whole, address }: DocumentProps) {
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
      {address && (
        <>
          <meta property="og:image" content={whole ? `${whole}social.png` : fileFrom(place, 'social.png')} />
          <meta property="og:image:width" content={String(SOCIAL_SIZE.wide)} />
          <meta property="og:image:height" content={String(SOCIAL_SIZE.high)} />
          <meta property="og:image:alt" content={description} />
        </>
      )}
      {page.theme === 'both' && (place.live || place.filed) && (
        <script src={fileFrom(place, assets('first.js'))} />
      )}
      <link rel="stylesheet" href={fileFrom(place, assets('page.css'))} />
      {lookFile && <link rel="stylesheet" href={fileFrom(place, lookFile)} />}
      {page.favicon ? (
        <link
          rel="icon"
          type={typeOfPicture(page.favicon)}
          href={fileFrom(place, `picture/${page.favicon}`)}
        />
      ) : (
        <link rel="icon" type="image/svg+xml" href={fileFrom(place, assets('lantern.svg'))} />
      )}
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
            <Masthead page={page} zone={props.frame.zone} address={props.address} />
            {props.address?.sheet === 'page' && <Cover page={page} />}
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
