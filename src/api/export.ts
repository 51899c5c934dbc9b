import Papa from 'papaparse';
import type { AnySchema, ObjectSchema } from 'yup';
import type { ListPage } from '@/store/db/list-page';
import { isEach, isVariants, type Answer } from './answers/build';
import { readCursor, type Listed } from './cursor';

/** How a whole list may be asked for, with its media type (RFC 4180; JSON Lines). */
export const EXPORTS = {
  csv: 'text/csv; charset=utf-8; header=present',
  jsonl: 'application/jsonl',
} as const;
export type ExportFormat = keyof typeof EXPORTS;
export const EXPORT_FORMATS = Object.keys(EXPORTS) as ExportFormat[];

/** So many rows are read at once: the list may be longer than memory. */
const ROWS_AT_ONCE = 500;

/** The columns of a list: every field that one of its rows may have. */
function columnsOf(answer: Answer): string[] {
  if (isEach(answer)) return columnsOf(answer.each);
  const schemas: AnySchema[] = isVariants(answer) ? Object.values(answer.of) : [answer];
  return [...new Set(schemas.flatMap((one) => Object.keys((one as ObjectSchema<object>).fields)))];
}

type Row = Record<string, unknown>;

/** A value in one cell; what has parts stands there as JSON. */
function cell(value: unknown): string | number | boolean {
  if (value === null || value === undefined) return '';
  return typeof value === 'object' ? JSON.stringify(value) : (value as string | number | boolean);
}

function rowsAsText(format: ExportFormat, columns: readonly string[], rows: readonly Row[]): string {
  if (format === 'jsonl') return rows.map((row) => `${JSON.stringify(row)}\n`).join('');
  if (rows.length === 0) return '';
  const cells = rows.map((row) => columns.map((name) => cell(row[name])));
  // What a spreadsheet would take for a formula is text.
  return `${Papa.unparse(cells, { escapeFormulae: true })}\r\n`;
}

/** Reads a part of the list, as it is told. Throws a refusal where it may not be read. */
type ReadRows = (page: ListPage) => Promise<Listed>;

/**
 * A whole list from where a page begins, as a stream: read part by part as fast as the other side takes it, and no
 * further once it is gone. The first part is read before anything is answered, so that a refusal is one.
 */
export async function exported(
  format: ExportFormat,
  answer: Answer,
  from: ListPage,
  read: ReadRows,
): Promise<ReadableStream<Uint8Array>> {
  const columns = columnsOf(answer);
  const encoder = new TextEncoder();
  let part = await read({ ...from, limit: ROWS_AT_ONCE });
  let text = format === 'csv' ? `${Papa.unparse([columns])}\r\n` : '';
  return new ReadableStream<Uint8Array>(
    {
      async pull(controller) {
        text += rowsAsText(format, columns, part.items as Row[]);
        const { next } = part;
        if (text !== '') controller.enqueue(encoder.encode(text));
        text = '';
        if (next === null) return controller.close();
        part = await read({ ...from, limit: ROWS_AT_ONCE, after: readCursor(next)! });
      },
    },
    { highWaterMark: 0 },
  );
}
