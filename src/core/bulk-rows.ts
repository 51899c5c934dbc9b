import { csvParse, csvParseRows } from 'd3';

/** One line of a pasted list, as what a watch would be made from. */
export interface BulkRow {
  /** Counted from 1, as a person sees it. */
  line: number;
  /** What stands there. */
  text: string;
  address: string;
  name: string;
  section: string;
  kind: string;
  every: string;
}

const COLUMNS = ['address', 'name', 'section', 'kind', 'every'] as const;
/** More lines than this are not taken at once. */
export const MOST_BULK_ROWS = 1000;

/**
 * Reads a pasted list: addresses one a line; or CSV (RFC 4180) with address, name, section, kind and every, by a
 * header in any order, or without one in that order. Empty lines and lines that begin with # are passed over.
 */
export function bulkRowsOf(text: string): BulkRow[] {
  const lines = text.replace(/^\uFEFF/, '').split(/\r?\n/);
  const kept = lines
    .map((line, i) => ({ line: i + 1, text: line }))
    .filter(({ text: line }) => line.trim() !== '' && !line.trimStart().startsWith('#'));
  const [first] = kept;
  if (!first) return [];
  const header = csvParseRows(first.text)[0]!.map((column) => column.trim().toLowerCase());
  const named = header.includes('address');
  const rows = named ? kept.slice(1) : kept;
  return rows.slice(0, MOST_BULK_ROWS).map(({ line, text: row }) => {
    const cells: Partial<Record<string, string>> = named
      ? (csvParse(`${header.join(',')}\n${row}`)[0] ?? {})
      : Object.fromEntries((csvParseRows(row)[0] ?? []).map((cell, i) => [COLUMNS[i] ?? `extra${i}`, cell]));
    const cell = (name: (typeof COLUMNS)[number]) => (cells[name] ?? '').trim();
    return {
      line,
      text: row,
      address: cell('address'),
      name: cell('name'),
      section: cell('section'),
      kind: cell('kind').toLowerCase(),
      every: cell('every'),
    };
  });
}
