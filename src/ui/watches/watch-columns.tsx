'use client';

import {
  columnResizingFeature,
  columnSizingFeature,
  columnVisibilityFeature,
  tableFeatures,
  useTable,
  type ColumnDef,
  type ColumnSizingState,
  type ColumnVisibilityState,
} from '@tanstack/react-table';
import { useMemo, type ReactNode } from 'react';
import { STRETCH_WORDS } from '@/core/history/line-text';
import type { WatchSort } from '@/core/settings/watch-order';
import type { ListedWatch } from '@/views/settings/watch-list';
import { Tag } from '@/ui/basic/tag';
import { useKept } from '@/ui/basic/use-kept';
import { WatchLink } from '@/ui/watch/watch-link';

const FEATURES = tableFeatures({ columnVisibilityFeature, columnSizingFeature, columnResizingFeature });

/** What a column of the list of watches shows, and how. */
export interface WatchColumn {
  id: string;
  title: string;
  /** By what the list can be put in order at its head; null for its own order, by section. */
  sort?: WatchSort | null;
  className: string;
  headClassName?: string;
  cell: (row: ListedWatch) => ReactNode;
  /** Shown until somebody says otherwise. */
  usual: boolean;
}

const COLUMNS: readonly WatchColumn[] = [
  {
    ...{ id: 'watch', title: 'watch', sort: 'name', className: 'max-w-72 pr-3', usual: true },
    cell: (row) => <WatchLink watch={row} />,
  },
  {
    ...{ id: 'state', title: 'state', sort: 'state', className: 'pr-3 whitespace-nowrap', usual: false },
    cell: (row) => STRETCH_WORDS[row.state],
  },
  {
    ...{
      id: 'kind',
      title: 'kind',
      sort: 'kind',
      className: 'pr-3 whitespace-nowrap max-md:hidden',
      usual: true,
    },
    cell: (row) => row.kind,
  },
  {
    ...{ id: 'target', title: 'what it watches', usual: true },
    className: 'text-muted max-w-64 truncate pr-3 text-[0.8438rem] max-lg:hidden',
    cell: (row) => <span title={row.target}>{row.target}</span>,
  },
  {
    ...{
      id: 'section',
      title: 'section',
      sort: null,
      className: 'max-w-56 truncate pr-3 max-sm:hidden',
      usual: true,
    },
    cell: (row) => row.section,
  },
  {
    ...{ id: 'tags', title: 'tags', className: 'pr-3 max-md:hidden', usual: true },
    cell: (row) => (
      <span className="flex flex-wrap gap-1">
        {row.tags.map((tag) => (
          <Tag key={tag.id} tag={tag} />
        ))}
      </span>
    ),
  },
  {
    ...{ id: 'pace', title: 'looks', usual: true },
    className: 'figures pr-4 text-right text-[0.8438rem] whitespace-nowrap max-lg:hidden',
    headClassName: 'pr-4 text-right max-lg:hidden',
    cell: (row) => row.pace,
  },
];

const byId = new Map(COLUMNS.map((column) => [column.id, column]));

const DEFS: ColumnDef<typeof FEATURES, ListedWatch>[] = COLUMNS.map(({ id, title }) => ({
  id,
  header: title,
  minSize: 64,
  maxSize: 900,
  enableHiding: id !== 'watch',
}));

const NONE: ListedWatch[] = [];
const KEY = 'lantern_watch_columns';

interface Kept {
  visibility: ColumnVisibilityState;
  sizing: ColumnSizingState;
}

/** What this browser kept; whatever else stands there is not taken. */
function readKept(text: string | null): Kept {
  const visibility: ColumnVisibilityState = {};
  const sizing: ColumnSizingState = {};
  let kept: Partial<Record<keyof Kept, Record<string, unknown>>> = {};
  try {
    kept = (JSON.parse(text ?? '{}') ?? {}) as typeof kept;
  } catch {
    // Somebody else wrote there.
  }
  for (const { id, usual } of COLUMNS) {
    const shown = kept.visibility?.[id];
    visibility[id] = typeof shown === 'boolean' ? shown : usual;
    const size = kept.sizing?.[id];
    if (typeof size === 'number' && size > 0) sizing[id] = size;
  }
  return { visibility, sizing };
}

const valueOf = <T,>(next: T | ((old: T) => T), old: T): T =>
  typeof next === 'function' ? (next as (old: T) => T)(old) : next;

/** Which columns the list of watches has, and how wide; kept by this browser. */
export function useWatchColumns() {
  const [text, keep] = useKept(KEY);
  const kept = useMemo(() => readKept(text), [text]);
  const set = (change: Partial<Kept>) => keep(JSON.stringify({ ...kept, ...change }));
  const table = useTable({
    features: FEATURES,
    columns: DEFS,
    data: NONE,
    columnResizeMode: 'onChange',
    state: { columnVisibility: kept.visibility, columnSizing: kept.sizing },
    onColumnVisibilityChange: (next) => set({ visibility: valueOf(next, kept.visibility) }),
    onColumnSizingChange: (next) => set({ sizing: valueOf(next, kept.sizing) }),
  });
  return {
    table,
    isSized: Object.keys(kept.sizing).length > 0,
    shown: table.getVisibleLeafColumns().map(({ id }) => byId.get(id)!),
    forget: () => keep('{}'),
  };
}

export type WatchColumns = ReturnType<typeof useWatchColumns>;
