import { STATES, type State } from '@/core/lifecycle/state';

/** Which of all watches are meant. Within a field any will do; all fields that are given must hold. */
export interface WatchFilter {
  states: State[];
  kinds: string[];
  /** Names; an empty one means watches without a section. */
  sections: string[];
  tags: string[];
  /** Pieces that must all be in the name, the target, the section or a tag; capitals do not count. */
  text: string;
}

export const NO_FILTER: WatchFilter = { states: [], kinds: [], sections: [], tags: [], text: '' };

/** What a filter looks at. */
export interface Filterable {
  name: string;
  kind: string;
  section: string | null;
  tags: readonly { name: string }[];
  state: State;
  target: string;
}

export function isFiltering({ states, kinds, sections, tags, text }: WatchFilter): boolean {
  return [states, kinds, sections, tags].some((wanted) => wanted.length > 0) || text.trim() !== '';
}

function anyOf(wanted: readonly string[], has: readonly string[]): boolean {
  return wanted.length === 0 || wanted.some((one) => has.includes(one));
}

export function passes(filter: WatchFilter, watch: Filterable): boolean {
  const tags = watch.tags.map((tag) => tag.name);
  const hay = [watch.name, watch.target, watch.section ?? '', ...tags].join('\n').toLowerCase();
  return (
    anyOf(filter.states, [watch.state]) &&
    anyOf(filter.kinds, [watch.kind]) &&
    anyOf(filter.sections, [watch.section ?? '']) &&
    anyOf(filter.tags, tags) &&
    filter.text
      .toLowerCase()
      .split(/\s+/)
      .every((piece) => hay.includes(piece))
  );
}

const FIELDS = { state: 'states', kind: 'kinds', section: 'sections', tag: 'tags' } as const;

/** A filter from the query of an address: `state`, `kind`, `section` and `tag` any number of times, `text` once. */
export function filterFromQuery(query: URLSearchParams): WatchFilter {
  const states = query.getAll('state').filter((state): state is State => STATES.includes(state as State));
  return {
    states,
    kinds: query.getAll('kind'),
    sections: query.getAll('section'),
    tags: query.getAll('tag'),
    text: query.get('text') ?? '',
  };
}

/** The same as part of an address, without a leading question mark; empty for no filter. */
export function filterToQuery(filter: WatchFilter): string {
  const query = new URLSearchParams();
  for (const [name, field] of Object.entries(FIELDS)) {
    for (const value of filter[field]) query.append(name, value);
  }
  if (filter.text.trim() !== '') query.set('text', filter.text.trim());
  return query.toString();
}
