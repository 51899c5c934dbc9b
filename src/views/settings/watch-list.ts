import { STRETCH_WORDS } from '@/core/history/line-text';
import { settingValueText, TIMING_WORDS } from '@/core/settings/setting-words';
import { STATES, type State } from '@/core/lifecycle/state';
import type { Tag } from '@/core/settings/tag';
import type { WatchFilter } from '@/core/settings/watch-filter';
import type { WatchSort } from '@/core/settings/watch-order';
import { targetText } from '@/probes/diagnosis/watch-target';
import type { Db } from '@/store/db/connection';
import { fetchFilters, type KeptFilter } from '@/store/watches/filters';
import { fetchSectionNames } from '@/store/watches/sections';
import { fetchTags } from '@/store/watches/tags';
import type { WatchWithStatus } from '@/store/watches/watches';
import { fetchAll } from '@/views/overview/all-watches';
import { kindChoices } from './kind-choices';
import { kindText } from '@/views/troubles/latest';

/** So many rows come with a page; those behind them are asked for as they come near. */
export const MOST_ROWS = 100;

export interface FilterView {
  choices: Record<'states' | 'kinds' | 'sections' | 'tags', { value: string; text: string }[]>;
  kept: KeptFilter[];
}

/** What a list of watches can be narrowed by: only what there is. */
export async function fetchFilterView(
  db: Db,
  there: { kinds: ReadonlySet<string>; loose: boolean },
): Promise<FilterView> {
  const sections = await fetchSectionNames(db);
  const tags = await fetchTags(db);
  const { loose } = there;
  const kinds = kindChoices().filter((kind) => there.kinds.has(kind.id));
  return {
    choices: {
      states: STATES.map((state) => ({ value: state, text: STRETCH_WORDS[state] })),
      kinds: kinds.map(({ id, title }) => ({ value: id, text: title })),
      sections: [
        ...sections.map((name) => ({ value: name, text: name })),
        ...(loose && sections.length > 0 ? [{ value: '', text: 'in no section' }] : []),
      ],
      tags: tags.map(({ name }) => ({ value: name, text: name })),
    },
    kept: await fetchFilters(db),
  };
}

export interface ListedWatch {
  id: number;
  name: string;
  state: State;
  /** Over a limit of its own, and not slow. */
  warned: boolean;
  kind: string;
  target: string;
  section: string;
  tags: Tag[];
  pace: string;
  paused: boolean;
}

function paceText({ config }: WatchWithStatus): string {
  if (config.type === 'checkin') return '';
  const name = config.when ? 'when' : 'every';
  return settingValueText(TIMING_WORDS[name]!, config[name], () => undefined);
}

interface ListWish {
  now: number;
  engineAnswers?: boolean;
  /** By section where nothing is said. */
  sort?: WatchSort;
  descending?: boolean;
}

/** The watches a filter lets through, as one table: a page of them. */
export async function fetchWatchList(
  db: Db,
  filter: WatchFilter,
  { now, engineAnswers = true, sort, descending = false }: ListWish,
) {
  const all = await fetchAll(db, now, engineAnswers);
  const inOrder = await all.matching(filter, sort ? { sort } : {});
  const ids = descending ? inOrder.toReversed() : inOrder;
  const watches = await all.read(ids.slice(0, MOST_ROWS));
  return {
    all: [...all.states.values()].reduce((sum, n) => sum + n, 0),
    /** All that the filter lets through; the first of them have rows. */
    ids,
    rows: watches.map(listed),
    ...(await fetchFilterView(db, all)),
  };
}

/** A row of that table. */
export function listed(watch: WatchWithStatus): ListedWatch {
  return {
    id: watch.id,
    name: watch.name,
    state: watch.status.state,
    warned: Boolean(watch.status.warned),
    kind: kindText(watch),
    target: targetText(watch),
    section: watch.section ?? '',
    tags: watch.tags,
    pace: paceText(watch),
    paused: watch.paused,
  };
}
