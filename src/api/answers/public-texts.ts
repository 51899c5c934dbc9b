import { identity, list, named, text, whole } from './build';

export const publicText = named('PublicText', {
  id: whole(),
  version: text(),
  name: text(),
  title: text('A Liquid template.'),
  body: text('A Liquid template; Markdown.'),
  over: text('What is said once it is over; a Liquid template, Markdown.'),
});

export const filledText = named('FilledText', { title: text(), body: text(), over: text() });

export const selfTelling = named('SelfTelling', {
  sectionId: identity('the section'),
  textId: identity('the text it tells with'),
  afterMinutes: whole('So long an outage has to last first.'),
  pageIds: list(whole(), 'The pages it stands on.'),
});
