import { convert } from 'html-to-text';
import { adviseWords, type WordsAdvice } from '@/core/expect/words-advice';
import { hostOf, newHop, portOf, textOf } from '@/probes/transport/http-hop';
import type { LookContext } from '@/probes/frame/kind';
import { carryOut } from '@/probes/frame/run';
import { web, wishOf, type WebSettings } from '@/probes/kinds/web';
import { fetchPage, type Fetched } from '@/probes/transport/web-request';

/** So much of a page is shown to choose words from. */
const MOST_SHOWN = 100_000;

export interface PageWords {
  /** Why the page could not be fetched, or null. */
  problem: { cause: string; detail: Record<string, string | number> } | null;
  source: string;
  visible: string;
  advice: WordsAdvice[];
}

async function fetchText(settings: WebSettings, address: URL, context: LookContext) {
  const fetched: Fetched = { url: address, hop: newHop() };
  const target = { host: hostOf(address), port: portOf(address), timeoutMs: context.timeoutMs };
  const finding = await carryOut(
    context,
    target,
    () => [],
    (run) => fetchPage(run, address, wishOf(settings), 'follow', fetched),
  );
  return { finding, status: fetched.hop.status, text: textOf(fetched.hop) };
}

/** What a visitor reads of a page: without markup, scripts, styles and comments. */
export function visibleText(source: string): string {
  return convert(source, {
    wordwrap: false,
    limits: { maxInputLength: MOST_SHOWN * 10 },
    selectors: [
      { selector: 'a', options: { ignoreHref: true } },
      { selector: 'img', format: 'skip' },
      { selector: 'script', format: 'skip' },
      { selector: 'style', format: 'skip' },
      ...['h1', 'h2', 'h3', 'h4', 'h5', 'h6'].map((selector) => ({
        selector,
        options: { uppercase: false },
      })),
    ],
  });
}

/** An address on the same site that nobody has. */
function nowhereOn(address: URL): URL {
  return new URL(`/no-such-page-${Math.random().toString(36).slice(2, 10)}`, address);
}

/** Fetches a page twice, and what its site says of an address that cannot exist, to choose and to doubt words. */
export async function fetchPageWords(given: WebSettings, context: LookContext): Promise<PageWords> {
  const settings = { ...web.defaults, ...given };
  const address = new URL(settings.address);
  const nowhere = nowhereOn(address);
  const first = await fetchText(settings, address, context);
  if (first.finding.verdict === 'failed') {
    const { cause, detail } = first.finding;
    return { problem: { cause, detail }, source: '', visible: '', advice: [] };
  }
  const visible = visibleText(first.text);
  const words = settings.words.trim();
  let advice: WordsAdvice[] = [];
  if (words !== '') {
    const [second, missing] = await Promise.all([
      fetchText(settings, address, context),
      fetchText(settings, nowhere, context),
    ]);
    advice = adviseWords({
      words,
      anyCase: settings.anyCase,
      address: address.href,
      source: first.text,
      second: second.status === undefined ? first.text : second.text,
      visible,
      notFound:
        missing.status === undefined
          ? null
          : { address: nowhere.href, status: missing.status, source: missing.text },
    });
  }
  return {
    problem: null,
    source: first.text.slice(0, MOST_SHOWN),
    visible: visible.slice(0, MOST_SHOWN),
    advice,
  };
}
