import { ENGLISH, type CauseWords } from '@/core/causes/cause-words';
import type { Language } from '@/core/languages/language';
import { DE_CAUSES } from './de';
import { ES_CAUSES } from './es';
import { FR_CAUSES } from './fr';
import { PT_CAUSES } from './pt';

/** What causes are called, by language. */
export const CAUSE_WORDS: Record<Language, CauseWords> = {
  en: ENGLISH,
  de: DE_CAUSES,
  fr: FR_CAUSES,
  es: ES_CAUSES,
  pt: PT_CAUSES,
};
