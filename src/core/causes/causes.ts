import { capitalise } from '@/core/text/words';
import { CAUSES, type CauseDetail } from './cause-catalogue';
import { ENGLISH, statusGroup, type CauseWords } from './cause-words';

export type { CauseDetail };

export type CauseCode = keyof typeof CAUSES;

export const CAUSE_CODES = Object.keys(CAUSES) as CauseCode[];

/** What fills the beginning of a sentence is a name, which stays as it is, or a word of the language. */
const LEADING_ARTICLE = /^(?:the|das|die|le|la|el|a|o) /;

/** The sentence of a cause, filled in. A value that is missing shows as "…"; a step of a journey stands first. */
export function causeSentence(
  code: CauseCode,
  detail: CauseDetail = {},
  words: CauseWords = ENGLISH,
): string {
  const sentence = words.causes[code].sentence.replace(/\{(\w+)\}/g, (_, name: string) =>
    String(detail[name] ?? '…'),
  );
  const begun = sentence.replace(LEADING_ARTICLE, capitalise);
  return detail.step === undefined ? begun : `${String(detail.step)}: ${begun}`;
}

/** The fault is this machine's own: nothing was learnt of the target. */
export function isOurOwnFault(code: CauseCode | undefined): boolean {
  return code?.startsWith('look.') ?? false;
}

/** The next thing to try for a cause, as far as what was seen tells more than the cause alone. */
export function causeAdvice(code: CauseCode, detail: CauseDetail = {}, words: CauseWords = ENGLISH): string {
  const group = code === 'reply.status' ? statusGroup(Number(detail.status)) : null;
  return group ? words.status[group] : words.causes[code].advice;
}
