import { IntlMessageFormat } from 'intl-messageformat';
import { formatUptime } from '@/core/history/availability';
import { numberWord, capitalise } from '@/core/text/words';
import { formatDuration, formatMs } from '@/core/time/duration';
import type { Language } from './language';
import { LOCALES, MOMENT_FORMS, type MomentForm } from './moments';
import { DE } from './page-phrases/de';
import { EN, type PagePhrase, type PagePhrases } from './page-phrases/en';
import { ES } from './page-phrases/es';
import { FR } from './page-phrases/fr';
import { PT } from './page-phrases/pt';

/** One line a language: whoever adds one writes its file of phrases and names it here and in `LANGUAGES`. */
export const PAGE_PHRASES: Readonly<Record<Language, PagePhrases>> = {
  en: EN,
  de: DE,
  fr: FR,
  es: ES,
  pt: PT,
};

/** How a public page is put into words of one language. */
export interface PageSpeech {
  language: Language;
  locale: string;
  /** A phrase with its values; `n` decides between one and many. */
  say: (phrase: PagePhrase, values?: Record<string, string | number>) => string;
  /** A moment on a zone's clocks. */
  at: (at: number, zone: string, form: MomentForm) => string;
  /** A length of time, never said longer than it was. */
  length: (ms: number) => string;
  /** A time of answering. */
  ms: (ms: number) => string;
  /** A share from 0 to 1; "no data" in its words where there is none. */
  share: (part: number | null) => string;
  list: (parts: readonly string[]) => string;
  /** A number at the beginning of a sentence: small ones in words where the language does so. */
  counted: (n: number) => string;
}

const UNITS = { d: 'day', h: 'hour', min: 'minute', s: 'second' } as const;

function makeSpeech(language: Language): PageSpeech {
  const phrases = PAGE_PHRASES[language];
  const locale = LOCALES[language];
  const compiled = new Map<PagePhrase, IntlMessageFormat>();
  const lists = new Intl.ListFormat(locale, { type: 'conjunction' });
  const clocks = new Map<string, Intl.DateTimeFormat>();
  const numbers = new Map<string, Intl.NumberFormat>();
  // A page of 500 lines says thousands of lengths: what writes them is made once for each unit and its decimals.
  const numberIn = (unit: keyof typeof UNITS | 'ms', digits: number) => {
    const known = numbers.get(`${unit} ${digits}`);
    if (known) return known;
    const places = { minimumFractionDigits: digits, maximumFractionDigits: digits };
    const style = unit === 'ms' ? {} : ({ style: 'unit', unit: UNITS[unit], unitDisplay: 'short' } as const);
    const made = new Intl.NumberFormat(locale, { ...style, ...places });
    numbers.set(`${unit} ${digits}`, made);
    return made;
  };
  /** "31 min" and "1,2 s": the number by the language's habits, the unit as it shortens it. */
  const localised = (text: string) =>
    language === 'en'
      ? text
      : text.replace(/([\d.]+) (d|h|min|s|ms)\b/g, (_, number: string, unit: keyof typeof UNITS | 'ms') => {
          const said = numberIn(unit, number.split('.')[1]?.length ?? 0).format(Number(number));
          return unit === 'ms' ? `${said} ms` : said;
        });
  const say: PageSpeech['say'] = (phrase, values = {}) => {
    let format = compiled.get(phrase);
    if (!format) {
      format = new IntlMessageFormat(phrases[phrase], locale, undefined, { ignoreTag: true });
      compiled.set(phrase, format);
    }
    return String(format.format(values));
  };
  return {
    language,
    locale,
    say,
    at: (at, zone, form) => {
      const key = `${form} ${zone}`;
      let clock = clocks.get(key);
      if (!clock) {
        clock = new Intl.DateTimeFormat(locale, { ...MOMENT_FORMS[form], timeZone: zone || 'UTC' });
        clocks.set(key, clock);
      }
      return clock.format(at);
    },
    length: (ms) => localised(formatDuration(ms)),
    ms: (ms) => localised(formatMs(ms)),
    share: (part) => {
      if (part === null) return say('uptime.none');
      const text = formatUptime(part);
      return language === 'en' ? text : text.replace('.', ',');
    },
    list: (parts) => lists.format(parts),
    counted: (n) => (language === 'en' ? capitalise(numberWord(n)) : String(n)),
  };
}

const speeches = new Map<Language, PageSpeech>();

/** How public pages speak a language; its phrases are read once. */
export function pageSpeechOf(language: Language): PageSpeech {
  const speech = speeches.get(language) ?? makeSpeech(language);
  speeches.set(language, speech);
  return speech;
}
