import { speechOf } from '@/core/languages/speech';
import { USUAL_LANGUAGE, type Language } from '@/core/languages/language';
import type { MessageText } from './message';

/** A name or a title of a rehearsal: nobody is to take it for real. */
export function drilled(title: string, language = USUAL_LANGUAGE): string {
  return speechOf(language).say('drill.title', { title });
}

/** A message of a rehearsal, marked at its head and in its first line. */
export function asDrill({ title, lines, link }: MessageText, language?: Language): MessageText {
  const { say } = speechOf(language ?? USUAL_LANGUAGE);
  return { title: drilled(title, language), lines: [say('drill.line'), ...lines], link };
}
