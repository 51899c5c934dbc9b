import { SEVERITY, type State } from '@/core/lifecycle/state';

/** What a list of watches can be put in order by; by section where nothing is said. */
export const WATCH_SORTS = ['name', 'kind', 'state'] as const;
export type WatchSort = (typeof WATCH_SORTS)[number];

interface Ordered {
  id: number;
  name: string;
  kind: string;
  state: State;
}

/** Letters of ASCII alone are alike in both cases, as the database has it. */
const folded = (text: string) => Buffer.from(text.replace(/[A-Z]/g, (letter) => letter.toLowerCase()));
const byName = (a: Ordered, b: Ordered) => Buffer.compare(folded(a.name), folded(b.name)) || a.id - b.id;
const byKind = (a: Ordered, b: Ordered) => Buffer.compare(Buffer.from(a.kind), Buffer.from(b.kind));

/** Which of two watches stands first: the worse state, the kind or the name that comes first; then by name. */
export function compareWatches(sort: WatchSort, a: Ordered, b: Ordered): number {
  switch (sort) {
    case 'name':
      return byName(a, b);
    case 'kind':
      return byKind(a, b) || byName(a, b);
    case 'state':
      return SEVERITY[b.state] - SEVERITY[a.state] || byName(a, b);
  }
}
