import { IntlMessageFormat } from 'intl-messageformat';
import { causeAdvice, type CauseCode, type CauseDetail } from '@/core/causes/causes';
import type { Rung } from '@/core/causes/finding';
import { troubleSentence } from '@/core/causes/ladder-text';
import { ownTroubleText, type OwnTroubleCode, type OwnTroubleText } from '@/core/causes/own-trouble';
import { formatUptime } from '@/core/history/availability';
import { formatClock, TO_THE_SECOND } from '@/core/time/clock-text';
import { capitalise, numberWord } from '@/core/text/words';
import type { Language } from './language';
import { CAUSE_WORDS } from './causes/cause-words';
import { detailIn } from './pieces';
import { DE } from './phrases/de';
import { ES } from './phrases/es';
import { FR } from './phrases/fr';
import { PT } from './phrases/pt';
import { EN, type Phrase, type Phrases } from './phrases/en';

/** How messages are put into words of one language. */
export interface Speech {
  language: Language;
  /** A phrase with its values; `n` decides between one and many. */
  say: (phrase: Phrase, values?: Record<string, string | number>) => string;
  /** A moment in a zone, to the second where asked for. */
  clock: (at: number, zone: string, toTheSecond?: boolean) => string;
  /** "a, b and c". */
  list: (parts: readonly string[]) => string;
  /** A number within a sentence: small ones in words where the language does so. */
  count: (n: number) => string;
  /** The same where it begins one. */
  counted: (n: number) => string;
  /** A share from 0 to 1, as "99.93 %". */
  share: (part: number) => string;
  advice: (cause: CauseCode, detail: CauseDetail) => string;
  trouble: (cause: CauseCode, detail: CauseDetail, walk?: readonly Rung[]) => string;
  own: (code: OwnTroubleCode, detail: CauseDetail) => OwnTroubleText;
}

const PHRASES: Record<Language, Phrases> = { en: EN, de: DE, fr: FR, es: ES, pt: PT };

/** English as it is written here: days before months. */
const LOCALES: Record<Language, string> = { en: 'en-GB', de: 'de', fr: 'fr', es: 'es', pt: 'pt' };

function makeSpeech(language: Language): Speech {
  const phrases = PHRASES[language];
  const words = CAUSE_WORDS[language];
  const compiled = new Map<Phrase, IntlMessageFormat>();
  const lists = new Intl.ListFormat(LOCALES[language], { type: 'conjunction' });
  const count = language === 'en' ? numberWord : String;
  /** What is noted is noted in English. */
  const own = (detail: CauseDetail) => (language === 'en' ? detail : detailIn(speech, detail));
  const speech: Speech = {
    language,
    say: (phrase, values = {}) => {
      let format = compiled.get(phrase);
      if (!format) {
        format = new IntlMessageFormat(phrases[phrase], language, undefined, { ignoreTag: true });
        compiled.set(phrase, format);
      }
      return String(format.format(values));
    },
    clock: (at, zone, toTheSecond = false) => {
      if (language === 'en') return formatClock(at, zone, toTheSecond);
      const { second, ...rest } = TO_THE_SECOND;
      const parts = { ...rest, ...(toTheSecond && { second }), timeZone: zone || 'UTC' };
      return new Intl.DateTimeFormat(LOCALES[language], parts).format(at);
    },
    list: (parts) => lists.format(parts),
    count,
    counted: (n) => capitalise(count(n)),
    share: (part) => {
      const text = formatUptime(part);
      return language === 'en' ? text : text.replace('.', ',');
    },
    advice: (cause, detail) => causeAdvice(cause, own(detail), words),
    trouble: (cause, detail, walk = []) => troubleSentence(cause, own(detail), walk, words),
    own: (code, detail) => ownTroubleText(code, own(detail), words.own),
  };
  return speech;
}

const speeches = new Map<Language, Speech>();

/** How a language is spoken; its phrases are read once. */
export function speechOf(language: Language): Speech {
  const speech = speeches.get(language) ?? makeSpeech(language);
  speeches.set(language, speech);
  return speech;
}
