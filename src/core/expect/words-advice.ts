/** Text as it is compared: runs of white space are one space. */
export function squeeze(text: string, anyCase: boolean): string {
  const squeezed = text.replace(/\s+/g, ' ');
  return anyCase ? squeezed.toLowerCase() : squeezed;
}

/** How often words stand in a text. */
export function countWords(text: string, words: string, anyCase: boolean): number {
  return squeeze(text, anyCase).split(squeeze(words.trim(), anyCase)).length - 1;
}

/** A reason to choose other words, with what proves it. */
export interface WordsAdvice {
  reason: 'absent' | 'not-found-page' | 'address' | 'changing' | 'hidden';
  sentence: string;
  proof: string;
}

export interface WordsSeen {
  words: string;
  anyCase: boolean;
  address: string;
  /** The page as it came, and as it came a second time. */
  source: string;
  second: string;
  /** What a visitor reads of it. */
  visible: string;
  /** What the site says at an address that cannot exist; null where it did not answer. */
  notFound: { address: string; status: number; source: string } | null;
}

const AROUND = 40;

/** The words with a little of what stands around them. */
function excerpt(text: string, words: string, anyCase: boolean): string {
  const flat = text.replace(/\s+/g, ' ');
  const at = squeeze(flat, anyCase).indexOf(squeeze(words.trim(), anyCase));
  if (at < 0) return '';
  const [from, to] = [Math.max(0, at - AROUND), at + words.trim().length + AROUND];
  return `${from > 0 ? '…' : ''}${flat.slice(from, to)}${to < flat.length ? '…' : ''}`;
}

/**
 * Why words are a weak test of a page: they are not on it, they also stand on the site's not-found page, they are
 * part of the address, they differ between two fetches, or no visitor sees them.
 */
export function adviseWords(seen: WordsSeen): WordsAdvice[] {
  const { words, anyCase, address, source, second, visible, notFound } = seen;
  const found = (text: string) => countWords(text, words, anyCase) > 0;
  if (!found(source)) {
    const broken = found(visible);
    return [
      {
        reason: 'absent',
        sentence: broken
          ? 'These words read as one, but stand in several pieces in the source; choose a shorter piece.'
          : 'These words are not on the page at the moment.',
        proof: broken ? excerpt(visible, words, anyCase) : '',
      },
    ];
  }
  const advice: WordsAdvice[] = [];
  if (notFound && found(notFound.source)) {
    advice.push({
      reason: 'not-found-page',
      sentence: `They also stand on the page for addresses that do not exist (${notFound.address}, status ${notFound.status}): they would not prove that this page is there.`,
      proof: excerpt(notFound.source, words, anyCase),
    });
  }
  if (!found(second)) {
    advice.push({
      reason: 'changing',
      sentence: 'They were gone when the page was fetched a second time: they change by themselves.',
      proof: excerpt(source, words, anyCase),
    });
  }
  if (found(decodeURIComponentSafely(address))) {
    advice.push({
      reason: 'address',
      sentence: 'They are part of the address, and error pages often repeat the address.',
      proof: address,
    });
  }
  if (!found(visible)) {
    advice.push({
      reason: 'hidden',
      sentence: 'No visitor reads them: they stand only in a script, a comment or the markup.',
      proof: excerpt(source, words, anyCase),
    });
  }
  return advice;
}

function decodeURIComponentSafely(text: string): string {
  try {
    return decodeURIComponent(text);
  } catch {
    return text;
  }
}
