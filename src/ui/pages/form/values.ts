import type { PageLook, PageSettings, PageItem, Follows } from '@/core/pages/page';

/** A line and a section as the form has them: with a key of its own, so that it can be moved. */
export interface ItemValues extends PageItem {
  key: number;
}

export interface SectionValues {
  key: number;
  title: string;
  items: ItemValues[];
  follows: Follows | null;
}

export interface PageValues extends Omit<PageSettings, 'lead'>, PageLook {
  title: string;
  slug: string;
  intro: string;
  sections: SectionValues[];
  /** Typed anew; empty, the one that stands stays. */
  password: string;
  /** The same of where copies are put. */
  copyPassword: string;
  lead: { words: string; until: string } | null;
}

let last = 0;

export function newKey(): number {
  last += 1;
  return last;
}

export function newItem(watch: { id: number; name: string }): ItemValues {
  return {
    key: newKey(),
    watchIds: [watch.id],
    label: watch.name,
    description: '',
    shows: 'history',
    counting: 'any',
  };
}

export function newSection(): SectionValues {
  return { key: newKey(), title: '', items: [], follows: null };
}

/** What is sent of a form: what the API calls a page. */
export function bodyOf({
  sections,
  password,
  copyPassword,
  lead,
  ...page
}: PageValues): Record<string, unknown> {
  return {
    ...page,
    sections: sections.map(({ key: _section, items, ...section }) => ({
      ...section,
      items: items.map(({ key: _item, ...item }) => item),
    })),
    lead: lead && lead.words.trim() !== '' ? { ...lead, until: isoOf(lead.until) } : null,
    ...(password !== '' && { password }),
    ...(copyPassword !== '' && { copyPassword }),
  };
}

/** What a date-and-time field holds, as ISO 8601; the text itself where it is no moment. */
export function isoOf(local: string): string {
  const at = new Date(local);
  return Number.isNaN(at.getTime()) ? local : at.toISOString();
}

/** A moment as a date-and-time field takes it, by the clocks of this browser. */
export function localOf(at: number): string {
  const offset = new Date(at).getTimezoneOffset() * 60_000;
  return new Date(at - offset).toISOString().slice(0, 16);
}

/** "Tern Island Ferries" becomes "tern-island-ferries". */
export function slugOf(title: string): string {
  return title
    .toLowerCase()
    .normalize('NFKD')
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-+|-+$/g, '')
    .slice(0, 60);
}
