import { capitalise, countOf, listed } from '@/core/text/words';

/** What chooses its watches by a section or a tag, each by its name. */
export interface Choosing {
  routes: readonly string[];
  maintenance: readonly string[];
}

/** So many are called by their names in a sentence. */
const MOST_NAMED = 3;

function named(names: readonly string[], what: string): string[] {
  if (names.length === 0) return [];
  const more = names.length - MOST_NAMED;
  const called = names.slice(0, MOST_NAMED).map((name) => `“${name}”`);
  return [`${what} ${listed(more > 0 ? [...called, countOf(more, 'other')] : called)}`];
}

/** Says what will be about other watches, or about none, without the section or the tag it chooses by; or nothing. */
export function choosingSentence({ routes, maintenance }: Choosing): string {
  const all = [
    ...named(routes, routes.length === 1 ? 'the route' : 'the routes'),
    ...named(maintenance, 'the maintenance'),
  ];
  if (all.length === 0) return '';
  const chooses = routes.length + maintenance.length === 1 ? 'chooses' : 'choose';
  return `${capitalise(listed(all))} ${chooses} watches by it, and will be about others without it, or about none.`;
}
