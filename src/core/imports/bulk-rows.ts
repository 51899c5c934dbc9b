import Papa from 'papaparse';

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

interface RecordOfText {
  line: number;
  text: string;
}

const MOST_LINES_IN_A_CELL = 50;

const quotesIn = (line: string) => line.split('"').length - 1;

/** Where a quoted cell that is open at the end of a line is closed; the line itself where it is not open, or not closed soon. */
function endOfRecord(lines: readonly string[], begin: number): number {
  if (!/(^|,)\s*"/.test(lines[begin]!)) return begin;
  let quotes = 0;
  for (let i = begin; i <= begin + MOST_LINES_IN_A_CELL && i < lines.length; i += 1) {
    quotes += quotesIn(lines[i]!);
    if (quotes % 2 === 0) return i;
  }
  // A quote that is opened and never closed is only a quote.
  return begin;
}

/** Records of a text (RFC 4180): a line each, or more where a quoted cell holds line breaks. */
function recordsOf(text: string): RecordOfText[] {
  const lines = text.replace(/^\uFEFF/, '').split(/\r?\n/);
  const records: RecordOfText[] = [];
  for (let begin = 0; begin < lines.length;) {
    const next = endOfRecord(lines, begin) + 1;
    records.push({ line: begin + 1, text: lines.slice(begin, next).join('\n') });
    begin = next;
  }
  return records;
}

/** The cells of one record (RFC 4180). */
function cellsOf(record: string): string[] {
  return Papa.parse<string[]>(record, { delimiter: ',' }).data[0] ?? [];
}

/** The rows of a pasted list, and how many more there are than are taken at once. */
export interface BulkList {
  rows: BulkRow[];
  left: number;
}

/**
 * Reads a pasted list: addresses one a line; or CSV (RFC 4180) with address, name, section, kind and every, by a
 * header in any order, or without one in that order. Empty lines and lines that begin with # are passed over.
 */
export function bulkRowsOf(text: string): BulkList {
  const kept = recordsOf(text).filter(
    ({ text: line }) => line.trim() !== '' && !line.trimStart().startsWith('#'),
  );
  const [first] = kept;
  if (!first) return { rows: [], left: 0 };
  const header = cellsOf(first.text).map((column) => column.trim().toLowerCase());
  const named = header.includes('address');
  const rows = named ? kept.slice(1) : kept;
  return { rows: rows.slice(0, MOST_BULK_ROWS).map(rowOf), left: Math.max(0, rows.length - MOST_BULK_ROWS) };

  function rowOf({ line, text: row }: RecordOfText): BulkRow {
    const names: readonly string[] = named ? header : COLUMNS;
    const cells: Partial<Record<string, string>> = Object.fromEntries(
      cellsOf(row).map((text, i) => [names[i] ?? `extra${i}`, text]),
    );
    const cell = (name: (typeof COLUMNS)[number]) => (cells[name] ?? '').trim();
    return {
      line,
      text: row,
      address: cell('address'),
      name: cell('name').replace(/\s+/g, ' '),
      section: cell('section').replace(/\s+/g, ' '),
      kind: cell('kind').toLowerCase(),
      every: cell('every'),
    };
  }
}
