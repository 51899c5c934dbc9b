import { STRETCH_WORDS } from '@/core/history/line-text';
import { settingValueText, TIMING_WORDS } from '@/core/settings/setting-words';
import { STATES, type State } from '@/core/lifecycle/state';
import type { Tag } from '@/core/settings/tag';
import { passes, type WatchFilter } from '@/core/settings/watch-filter';
import { filterable, targetText } from '@/probes/diagnosis/watch-target';
import type { Db } from '@/store/db/connection';
import { fetchFilters, type KeptFilter } from '@/store/watches/filters';
import { fetchSectionNames } from '@/store/watches/sections';
import { fetchTags } from '@/store/watches/tags';
import type { WatchWithStatus } from '@/store/watches/watches';
import { fetchKnownWatches } from '@/views/watches-once';
import { kindChoices } from './kind-choices';
import { kindText } from '@/views/troubles/latest';

/** So many rows are drawn where not all are asked for: thousands keep browser and server busy. */
export const MOST_ROWS = 200;

export interface FilterView {
  choices: Record<'states' | 'kinds' | 'sections' | 'tags', { value: string; text: string }[]>;
  kept: KeptFilter[];
}

/** What a list of watches can be narrowed by: only what there is. */
export async function fetchFilterView(db: Db, watches: readonly WatchWithStatus[]): Promise<FilterView> {
  const sections = await fetchSectionNames(db);
  const tags = await fetchTags(db);
  const kinds = kindChoices().filter((kind) => watches.some((watch) => watch.kind === kind.id));
  const loose = watches.some((watch) => watch.section === null);
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

/** All watches a filter lets through, as one table. */
export async function fetchWatchList(db: Db, filter: WatchFilter, whole: boolean, now = Date.now()) {
  const watches = await fetchKnownWatches(db, now);
  const shown = watches.filter((watch) => passes(filter, filterable(watch)));
  return {
    all: watches.length,
    shown: shown.length,
    rows: shown.slice(0, whole ? undefined : MOST_ROWS).map((watch): ListedWatch => ({
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
    })),
    ...(await fetchFilterView(db, watches)),
  };
}
