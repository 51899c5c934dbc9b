import type { Language } from './language';

/** English as it is written here: days before months. */
export const LOCALES: Readonly<Record<Language, string>> = {
  en: 'en-GB',
  de: 'de',
  fr: 'fr',
  es: 'es',
  pt: 'pt',
};

/** How much of a moment is said on a public page. */
export const MOMENT_FORMS = {
  clock: { hour: '2-digit', minute: '2-digit', hourCycle: 'h23' },
  moment: {
    weekday: 'short',
    day: 'numeric',
    month: 'short',
    hour: '2-digit',
    minute: '2-digit',
    hourCycle: 'h23',
  },
  day: { weekday: 'long', day: 'numeric', month: 'long' },
  'short-day': { weekday: 'short', day: 'numeric', month: 'short' },
  month: { month: 'long', year: 'numeric' },
  date: { day: 'numeric', month: 'short', year: 'numeric' },
} as const satisfies Record<string, Intl.DateTimeFormatOptions>;

export type MomentForm = keyof typeof MOMENT_FORMS;
