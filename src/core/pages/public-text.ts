import { fillTemplate } from '@/core/messages/sandbox';
import type { Language } from '@/core/languages/language';
import { pageSpeechOf } from '@/core/languages/page-speech';

/** A text for the public that is used again: of its beginning, and of its end. */
export interface PublicText {
  name: string;
  /** All three are Liquid templates. */
  title: string;
  body: string;
  /** What is said once it is over; empty, nothing can be closed with it. */
  over: string;
}

/** What a text may name. */
export const PUBLIC_TEXT_VALUES = {
  service: 'what visitors call what is out',
  page: 'the title of the page',
  since: 'since when, by the clocks of the page',
  ended: 'when it was over; empty while it lasts',
  length: 'how long it lasts, or lasted',
} as const;

export type PublicTextValues = Record<keyof typeof PUBLIC_TEXT_VALUES, string>;

/** What texts are filled in with. */
export function valuesOf(
  facts: { labels: readonly string[]; page: string; began: number; ended: number | null },
  { language, zone, now }: { language: Language; zone: string; now: number },
): PublicTextValues {
  const { at, length, list } = pageSpeechOf(language);
  return {
    service: facts.labels.length > 0 ? list(facts.labels) : '',
    page: facts.page,
    since: at(facts.began, zone, 'moment'),
    ended: facts.ended === null ? '' : at(facts.ended, zone, 'moment'),
    length: length(Math.max(0, (facts.ended ?? now) - facts.began)),
  };
}

/** What a text is tried with before it is kept. */
export const EXAMPLE_VALUES: PublicTextValues = {
  service: 'Online booking',
  page: 'Tern Island Ferries',
  since: 'Fri 27 Nov, 08:30',
  ended: '',
  length: '12 min',
};

/** A text filled in. Throws a `TemplateError` that says why it cannot be. */
export function fillPublicText({ title, body, over }: PublicText, values: PublicTextValues) {
  const fill = (template: string) => fillTemplate(template, values).trim();
  // A title is one line, however the template breaks it.
  return { title: fill(title).replace(/\s+/g, ' ').slice(0, 120), body: fill(body), over: fill(over) };
}
