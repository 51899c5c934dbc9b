import { formatBytes } from '../core/duration';
import type { CauseCode, CauseDetail } from '../core/causes';
import { countWords } from '../core/words-advice';
import { parseStatusRanges } from './address';
import { MOST_BODY_BYTES, textOf, type Hop } from './http-hop';
import type { Run } from './run';

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

/** An answer as JSON; what is none fails the look with the reason. */
export function parseJson(run: Run, text: string): unknown {
  try {
    return JSON.parse(text) as unknown;
  } catch (error) {
    return run.fail('json.unreadable', { reason: (error as Error).message.slice(0, 120) });
  }
}

/** Fails the look when a status is not among those accepted, such as "200-299, 401". */
export function expectStatus(run: Run, accepted: string, status: number): void {
  const ranges = parseStatusRanges(accepted) ?? [[200, 299]];
  if (!ranges.some(([from, to]) => status >= from && status <= to)) run.fail('reply.status', { status });
}
