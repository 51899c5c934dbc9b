'use client';

import { ArrowDown, ArrowUp, Columns3 } from 'lucide-react';
import { DropdownMenu } from 'radix-ui';
import type { KeyboardEvent } from 'react';
import type { WatchSort } from '@/core/settings/watch-order';
import { Link } from '@/ui/basic/link';
import type { WatchColumn, WatchColumns } from './watch-columns';

/** How the list is in order. */
export interface Sorted {
  /** Null for the order of sections. */
  by: WatchSort | null;
  descending: boolean;
}

const KEY_STEP_PX = 24;
const LEAST_PX = 64;

interface ColumnHeadsProps {
  columns: WatchColumns;
  sorted: Sorted;
  /** Where the same list stands in another order. */
  hrefOf: (sorted: Sorted) => string;
}

/** The heads of the list of watches: each puts it in order, and is as wide as one draws it. */
export function ColumnHeads({ columns, sorted, hrefOf }: ColumnHeadsProps) {
  const { table, shown, isSized } = columns;
  const headers = new Map(table.getHeaderGroups()[0]!.headers.map((header) => [header.column.id, header]));
  return shown.map((column) => {
    const header = headers.get(column.id)!;
    const here = column.sort !== undefined && column.sort === sorted.by;
    const onKey = (event: KeyboardEvent<HTMLElement>) => {
      const step = event.key === 'ArrowLeft' ? -KEY_STEP_PX : event.key === 'ArrowRight' ? KEY_STEP_PX : 0;
      if (step === 0) return;
      event.preventDefault();
      const now = event.currentTarget.parentElement!.offsetWidth;
      table.setColumnSizing((old) => ({ ...old, [column.id]: Math.max(LEAST_PX, now + step) }));
    };
    return (
      <th
        key={column.id}
        className={`group relative font-normal ${column.headClassName ?? column.className}`}
        style={isSized ? { width: table.state.columnSizing[column.id] } : undefined}
        aria-sort={here ? (sorted.descending ? 'descending' : 'ascending') : undefined}
      >
        <Title {...{ column, here, sorted, hrefOf }} />
        <span
          role="separator"
          tabIndex={0}
          aria-orientation="vertical"
          aria-label={`Width of ${column.title}`}
          aria-valuenow={Math.round(header.getSize())}
          className="hover:bg-edge focus-visible:bg-edge absolute inset-y-1 right-0 w-1.5 cursor-col-resize touch-none rounded max-md:hidden"
          onPointerDown={(event) => {
            // A column that was never drawn begins as wide as it is.
            const now = event.currentTarget.parentElement!.offsetWidth;
            if (table.state.columnSizing[column.id] === undefined)
              table.setColumnSizing((old) => ({ ...old, [column.id]: now }));
          }}
          onMouseDown={header.getResizeHandler()}
          onTouchStart={header.getResizeHandler()}
          onKeyDown={onKey}
        />
      </th>
    );
  });
}

interface TitleProps {
  column: WatchColumn;
  /** Whether the list is in the order of this one. */
  here: boolean;
  sorted: Sorted;
  hrefOf: (sorted: Sorted) => string;
}

function Title({ column, here, sorted, hrefOf }: TitleProps) {
  if (column.sort === undefined) return column.title;
  const Arrow = sorted.descending ? ArrowDown : ArrowUp;
  return (
    <Link
      href={hrefOf({ by: column.sort, descending: here && !sorted.descending })}
      scroll={false}
      className="inline-flex items-center gap-1 no-underline hover:underline"
    >
      {column.title}
      {here && <Arrow size={13} aria-hidden />}
    </Link>
  );
}

const ITEM =
  'flex cursor-pointer items-center gap-2 rounded-md px-3 py-1.5 outline-none data-[highlighted]:bg-quiet';

/** Which columns are shown. */
export function ColumnMenu({ columns: { table, forget } }: { columns: WatchColumns }) {
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger className="text-muted hover:text-ink inline-flex items-center gap-1.5 text-[0.875rem] max-md:hidden">
        <Columns3 size={15} aria-hidden /> Columns
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content align="end" className="sheet z-30 min-w-44 p-1.5 shadow-lg">
          {table
            .getAllLeafColumns()
            .filter((column) => column.getCanHide())
            .map((column) => (
              <DropdownMenu.CheckboxItem
                key={column.id}
                className={ITEM}
                checked={column.getIsVisible()}
                onCheckedChange={(on) => column.toggleVisibility(on)}
                onSelect={(event) => event.preventDefault()}
              >
                <span aria-hidden className="w-4">
                  {column.getIsVisible() ? '✓' : ''}
                </span>
                {String(column.columnDef.header)}
              </DropdownMenu.CheckboxItem>
            ))}
          <DropdownMenu.Separator className="bg-rule my-1 h-px" />
          <DropdownMenu.Item className={ITEM} onSelect={forget}>
            <span className="w-4" /> As it was at first
          </DropdownMenu.Item>
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
