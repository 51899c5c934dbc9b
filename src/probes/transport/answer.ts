import { PathTooFar, valuesAt } from '@/core/expect/json-path';
import { compare, expectedText, type Comparison } from '@/core/expect/compare';
import { formatBytes } from '@/core/time/duration';
import type { CauseCode, CauseDetail } from '@/core/causes/causes';
import { countWords } from '@/core/expect/words-advice';
import { parseStatusRanges } from '@/probes/frame/address';
import { MOST_BODY_BYTES, textOf, type Hop } from './http-hop';
import type { Run } from '@/probes/frame/run';

const KEPT = formatBytes(MOST_BODY_BYTES);

/** A page as far as it was read. */
export interface PageText {
  text: string;
  /** There was more than is read of any page. */
  cut: boolean;
}

export function pageTextOf(hop: Hop): PageText {
  return { text: textOf(hop), cut: hop.bytes >= MOST_BODY_BYTES };
}

/** Fails the look for what was not found on a page; in half a page it may still be in the rest. */
export function failMissing(run: Run, page: PageText, what: string, cause: CauseCode, detail: CauseDetail) {
  if (page.cut) run.fail('text.not-reached', { what, read: KEPT });
  run.fail(cause, detail);
}

/** Fails the look where words are not on a page; notes how often they are. */
export function expectWords(run: Run, page: PageText, typed: string, anyCase: boolean): void {
  const words = typed.trim();
  if (words === '') return;
  run.evidence.wordsFound = countWords(page.text, words, anyCase);
  if (run.evidence.wordsFound === 0) failMissing(run, page, `“${words}”`, 'text.missing', { words });
}

/** A page as JSON; half a document cannot be read. */
export function pageJson(run: Run, { text, cut }: PageText): unknown {
  return cut ? run.fail('reply.too-large', { limit: KEPT }) : parseJson(run, text);
}

/** Digits beyond this many are not all kept by a number. */
const EXACT_DIGITS = 15;

/** JSON in which long numbers are kept as their digits: an identifier must not change by being read. */
function parseExact(text: string): unknown {
  const value = JSON.parse(text) as unknown;
  if (!/\d{16}/.test(text.replace(/\./g, ''))) return value;
  const kept = text.replace(/"(?:[^"\\]|\\.)*"|-?\d+(?:\.\d+)?(?:[eE][+-]?\d+)?/g, (token) =>
    token.startsWith('"') || token.replace(/\D/g, '').length <= EXACT_DIGITS ? token : `"${token}"`,
  );
  return JSON.parse(kept) as unknown;
}

/** An answer as JSON; what is none fails the look with the reason. */
export function parseJson(run: Run, text: string): unknown {
  try {
    return parseExact(text);
  } catch (error) {
    return run.fail('json.unreadable', { reason: (error as Error).message.slice(0, 120) });
  }
}

/** The values at a path of an answer; a path that goes through too much of it fails the look. */
export function valuesIn(run: Run, path: string, document: unknown): unknown[] {
  try {
    return valuesAt(path, document);
  } catch (error) {
    if (error instanceof PathTooFar) return run.fail('value.too-far', { what: path });
    throw error;
  }
}

/** Fails the look when a status is not among those accepted, such as "200-299, 401". */
export function expectStatus(run: Run, accepted: string, status: number): void {
  const ranges = parseStatusRanges(accepted) ?? [[200, 299]];
  if (!ranges.some(([from, to]) => status >= from && status <= to)) run.fail('reply.status', { status });
}

const LONGEST_SHOWN = 120;

/** Fails when what was read does not compare as it should; `none` says what is missing where nothing was read. */
export function expectValue(
  run: Run,
  got: unknown,
  { comparison, value }: { comparison: Comparison; value: string },
  { what, none = what }: { what: string; none?: string },
): void {
  if (compare(got, comparison, value)) return;
  if (got === undefined) run.fail('value.none', { what: none });
  const shown =
    typeof got === 'string'
      ? `“${got.slice(0, LONGEST_SHOWN)}”`
      : JSON.stringify(got).slice(0, LONGEST_SHOWN);
  run.fail('value.differs', { what, got: shown, expected: expectedText(comparison, value) });
}
