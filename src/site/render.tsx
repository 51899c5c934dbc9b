import type { ReactNode } from 'react';
import { renderToStaticMarkup } from 'react-dom/server';
import type { Language } from '@/core/languages/language';
import { pageSpeechOf } from '@/core/languages/page-speech';
import { NO_PICTURES } from '@/core/pages/picture';
import { plainMarkdown } from '@/core/text/markdown';
import type { PublicDay, PublicDiary, PublicFrame, PublicPage, PublicStory } from '@/views/pages/public-page';
import { SheetProvider } from './frame/context';
import { Document } from './frame/document';
import type { Place, SheetAddress } from './frame/place';
import { DaySheet } from './sheets/day-sheet';
import { DiarySheet, StorySheet } from './sheets/diary-sheet';
import { EmbedSheet } from './sheets/embed-sheet';
import { DoorSheet, type Door } from './sheets/door-sheet';
import { FollowSheet, type FollowState } from './sheets/follow-sheet';
import { leadOf, PageSheet } from './sheets/page-sheet';

/** How a sheet is to be drawn. */
export interface Drawing {
  language: Language;
  place: Place;
  assets: (name: string) => string;
  /** The name of the page's own sheet of style; null where it has none. */
  lookFile: string | null;
  /** Where the page begins, as a whole address, where that is known: others ask for its picture by it. */
  whole: string | null;
  /** When a copy in a folder is made; null for what is served. */
  madeAt: number | null;
}

interface SheetParts {
  title: string;
  description: string;
  address: SheetAddress | null;
  listed: boolean;
  bare?: boolean;
  children: ReactNode;
}

function draw(frame: PublicFrame, drawing: Drawing, { children, ...parts }: SheetParts): string {
  const context = {
    speech: pageSpeechOf(drawing.language),
    zone: frame.zone,
    place: drawing.place,
    assets: drawing.assets,
  };
  const markup = renderToStaticMarkup(
    <SheetProvider value={context}>
      <Document
        frame={frame}
        madeAt={drawing.madeAt}
        lookFile={drawing.lookFile}
        whole={drawing.whole}
        {...parts}
      >
        {children}
      </Document>
    </SheetProvider>,
  );
  return `<!doctype html>${markup}`;
}

function isListed({ page }: PublicFrame): boolean {
  return page.listed && page.audience === 'everyone';
}

export function renderPage(view: PublicPage, drawing: Drawing): string {
  const lead = leadOf(view, pageSpeechOf(drawing.language));
  return draw(view, drawing, {
    title: view.page.title,
    description: lead,
    address: { sheet: 'page', days: view.days },
    listed: isListed(view),
    children: <PageSheet view={view} />,
  });
}

/** The page for a frame of somebody else's. */
export function renderEmbed(view: PublicPage, drawing: Drawing): string {
  return draw(view, drawing, {
    title: view.page.title,
    description: view.page.title,
    address: null,
    listed: false,
    bare: true,
    children: <EmbedSheet view={view} />,
  });
}

export function renderDay(view: PublicDay, drawing: Drawing): string {
  const day = pageSpeechOf(drawing.language).at(view.whole.from, view.zone, 'day');
  return draw(view, drawing, {
    title: `${day} · ${view.page.title}`,
    description: day,
    address: { sheet: 'day', day: view.day },
    listed: false,
    children: <DaySheet view={view} />,
  });
}

export function renderDiary(view: PublicDiary, drawing: Drawing): string {
  const title = pageSpeechOf(drawing.language).say('diary.title', { title: view.page.title });
  return draw(view, drawing, {
    title,
    description: title,
    address: { sheet: 'diary', month: view.month },
    listed: isListed(view) && view.words === null,
    children: <DiarySheet view={view} />,
  });
}

export function renderStory(view: PublicStory, drawing: Drawing): string {
  const { incident, page } = view;
  return draw(view, drawing, {
    title: `${incident.title} · ${page.title}`,
    description: plainMarkdown(incident.updates[0]?.body ?? incident.title).slice(0, 200),
    address: { sheet: 'incident', id: incident.id },
    listed: isListed(view),
    children: <StorySheet view={view} />,
  });
}

/** Where one asks to be told by mail, and what the links in letters lead to. */
export function renderFollow(frame: PublicFrame, state: FollowState, drawing: Drawing): string {
  return draw(frame, drawing, {
    title: frame.page.title,
    description: frame.page.title,
    address: null,
    listed: false,
    children: <FollowSheet state={state} page={frame.page.title} />,
  });
}

/** What stands where a page may not be seen: it says nothing of the page but that it is there. */
export function renderDoor(frame: PublicFrame, door: Door, drawing: Drawing): string {
  const bare = {
    ...frame,
    page: { ...frame.page, ...NO_PICTURES, links: [], contact: '', footer: '', socialText: '' },
  };
  return draw(
    bare,
    { ...drawing, lookFile: null, whole: null },
    {
      title: frame.page.title,
      description: frame.page.title,
      address: null,
      listed: false,
      children: <DoorSheet door={door} />,
    },
  );
}
