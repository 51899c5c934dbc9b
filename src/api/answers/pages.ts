import { LANGUAGE_CODES } from '@/core/languages/language';
import { AFFECTED, INCIDENT_KINDS, STAGES } from '@/core/pages/incident';
import { AUDIENCES, DENSITIES, LETTERS, SHOWS, THEMES, WIDTHS } from '@/core/pages/page';
import { PICTURE_USES } from '@/core/pages/picture';
import { choice, flag, identity, inner, list, named, text, time, whole } from './build';

const pageItem = inner({
  watchIds: list(whole(), 'One watch, or several that stand as one line.'),
  label: text('What the public reads.'),
  description: text(),
  shows: choice(SHOWS),
  counting: choice(['any', 'all']),
});

export const page = named('Page', {
  id: whole(),
  version: text(),
  slug: text(),
  title: text(),
  intro: text(),
  sections: list(
    inner({
      title: text(),
      items: list(pageItem),
      follows: inner({
        sectionId: identity('the section whose watches come to it by themselves').nullable(),
        tagId: identity('the tag they have').nullable(),
      }).nullable(),
    }),
  ),
  language: choice(LANGUAGE_CODES),
  zone: text('Whose clocks are shown first; null for the desk’s.').nullable(),
  audience: choice(AUDIENCES, 'Who may see it.'),
  hasPassword: flag('Whether there is a password that opens it.'),
  listed: flag('Whether search engines may list it.'),
  host: text('A name of its own on the web.').nullable(),
  lead: inner({ words: text(), until: time() }).nullable(),
  socialText: text(),
  follow: inner({
    channelId: identity('the mail channel'),
    perHour: whole('So many mails an hour are handed over.'),
    bounced: flag('Whether letters that cannot be delivered come back to the mail door.'),
  })
    .meta({ description: 'How those are written to who follow by mail.' })
    .nullable(),
  pushes: flag('Whether visitors may be told in their browsers (Web Push).'),
  copied: flag('Whether a copy is kept in the folder of copies.'),
  copyTo: inner({ address: text(), user: text() }).nullable(),
  hasCopyPassword: flag(),
  logo: text('The name of a picture.').nullable(),
  logoDark: text('The same by night.').nullable(),
  favicon: text('The same for the window.').nullable(),
  cover: text('The same above all else.').nullable(),
  titleShown: flag('Whether the title stands beside the logo.'),
  theme: choice(THEMES),
  accent: text('Such as #1f6e6a.').nullable(),
  letters: choice(LETTERS),
  density: choice(DENSITIES),
  width: choice(WIDTHS),
  links: list(inner({ text: text(), address: text() })),
  contact: text(),
  footer: text(),
  credit: flag(),
  css: text('Own rules of style.'),
  createdAt: time(),
  address: text('Where those it is for find it.'),
});

export const pagePreview = named('PagePreview', {
  path: text('Where it is found, below the address of the desk.'),
});

const affected = list(inner({ watchId: whole(), how: choice(AFFECTED) }), 'What it does to which watches.');

export const incident = named('Incident', {
  id: whole(),
  version: text(),
  kind: choice(INCIDENT_KINDS),
  pageIds: list(whole(), 'The pages it stands on.'),
  title: text(),
  beganAt: time(),
  endedAt: time('A notice may have an end that lies ahead.').nullable(),
  affected,
  account: text('What happened and what will change; Markdown.'),
  accountAt: time('When that was written last.').nullable(),
  outageId: identity('the outage it tells of').nullable(),
  updates: list(
    inner({
      id: whole(),
      at: time(),
      stage: choice(STAGES),
      body: text('Markdown (CommonMark).'),
      correctedAt: time().nullable(),
    }),
    'The newest first.',
  ),
});

export const incidentDraft = named('IncidentDraft', {
  outageId: whole().nullable(),
  title: text(),
  body: text(),
  stage: choice(STAGES),
  beganAt: time(),
  endedAt: time().nullable(),
  affected,
  pageIds: list(whole()),
});

export const accountDraft = named('AccountDraft', { account: text('Markdown.') });

export const earlierText = named('EarlierText', {
  updateId: identity('the update'),
  at: time('Until when it stood.'),
  body: text(),
});

export const picture = named('Picture', {
  name: text('By what is in it: the same picture has the same name.'),
  use: choice(PICTURE_USES),
});

export const hostCheck = named('NameCheck', {
  ok: flag('Whether visitors will find the page by that name.'),
  steps: list(inner({ ok: flag(), text: text() }), 'What was found, in order.'),
});
