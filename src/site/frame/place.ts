import type { Language } from '@/core/languages/language';
import type { LineDays } from '@/core/pages/page';
import type { Day } from '@/core/pages/days';

/** What of a page can be asked for. */
export type SheetAddress =
  | { sheet: 'page'; days: LineDays }
  | { sheet: 'day'; day: Day }
  | { sheet: 'diary'; month: string | null }
  | { sheet: 'incident'; id: number };

/** The span of the lines where none is chosen. */
export const USUAL_DAYS: LineDays = 90;

/** Where a sheet stands: everything on it is named from there, so that it holds behind any proxy and in any folder. */
export interface Place {
  /** The way from the sheet to where the page begins: "./" or "../". */
  root: string;
  /** The language that was chosen by hand; kept from sheet to sheet. */
  chosen: Language | null;
  /** True in a folder of files, where nobody answers questions. */
  filed: boolean;
  /** Whether news of it can be followed. */
  live: boolean;
}

/** What a sheet is called, from where the page begins; with the file's ending in a folder. */
export function nameOf(address: SheetAddress, filed: boolean): string {
  const ending = filed ? '.html' : '';
  switch (address.sheet) {
    case 'page':
      if (!filed) return '';
      return address.days === USUAL_DAYS ? 'index.html' : `${address.days}-days.html`;
    case 'day':
      return `day/${address.day}${ending}`;
    case 'diary':
      return address.month === null ? `diary${ending}` : `diary/${address.month}${ending}`;
    case 'incident':
      return `incident/${address.id}${ending}`;
  }
}

/** The way from a sheet to another. */
export function hrefTo({ root, chosen, filed }: Place, address: SheetAddress): string {
  const query: string[] = [];
  if (!filed) {
    if (address.sheet === 'page' && address.days !== USUAL_DAYS) query.push(`days=${address.days}`);
    if (chosen) query.push(`lang=${chosen}`);
  }
  const name = nameOf(address, filed);
  const path = root === './' && name !== '' ? name : `${root}${name}`;
  return query.length > 0 ? `${path}?${query.join('&')}` : path;
}

/** The way from a sheet to a file of the page. */
export function fileFrom({ root }: Place, name: string): string {
  return root === './' ? name : `${root}${name}`;
}
