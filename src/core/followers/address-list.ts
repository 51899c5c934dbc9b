import Papa from 'papaparse';
import { readMailbox } from './follower';

const MOST_TOLD = 50;

/**
 * The mail addresses of a list: one a line, or CSV (RFC 4180) with the address in its first column. Each once, as they
 * are kept; lines that hold none, apart from a first line of headings, are told.
 */
export function readAddressList(text: string): {
  addresses: string[];
  refused: { line: number; text: string }[];
} {
  // Empty lines are read along: they count where a line is told by its number.
  const { data } = Papa.parse<string[]>(text.replace(/^\uFEFF/, ''));
  const addresses = new Set<string>();
  const refused: { line: number; text: string }[] = [];
  let begun = false;
  for (const [i, row] of data.entries()) {
    if (row.every((cell) => cell.trim() === '')) continue;
    const isFirst = !begun;
    begun = true;
    const first = (row[0] ?? '').trim();
    const address = readMailbox(first);
    if (address) addresses.add(address);
    else if (!(isFirst && /^[\w -]+$/.test(first)) && refused.length < MOST_TOLD) {
      refused.push({ line: i + 1, text: first.slice(0, 80) });
    }
  }
  return { addresses: [...addresses], refused };
}
